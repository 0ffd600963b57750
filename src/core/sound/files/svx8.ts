/**
 * Reads 8SVX (EA IFF 85, the form of 8-bit sampled voices): its highest octave, as it is or by
 * Fibonacci's differences, of one channel or of both one after the other.
 */
import { said } from '@/core/said';
import { firstChunks, idAt, viewOf } from './iff-chunks';
import { SoundRefusal, type SoundFile } from '../sound-file';

const HEAD = 12;
const VHDR_BYTES = 20;
const BOTH_CHANNELS = 6;
const DIFFERENCES = Object.freeze([-34, -21, -13, -8, -5, -3, -2, -1, 0, 1, 2, 3, 5, 8, 13, 21]);

/** Values of differences: a byte that counts for nothing, the first value, then two to a byte. */
function undifferenced(packed: Uint8Array): Uint8Array {
  const values = new Uint8Array(2 * Math.max(0, packed.length - 2));
  let value = packed[1] ?? 0;
  for (let i = 0; i < values.length; i++) {
    const byte = packed[2 + (i >> 1)]!;
    value = (value + DIFFERENCES[i % 2 === 0 ? byte >> 4 : byte & 0x0f]!) & 0xff;
    values[i] = value;
  }
  return values;
}

/** Left and right one after the other, made frames of both. */
function interleaved(values: Uint8Array): Uint8Array {
  const half = values.length >> 1;
  return Uint8Array.from({ length: 2 * half }, (_, i) => values[(i >> 1) + (i % 2) * half]!);
}

interface Voice {
  /** Frames of the highest octave: what is played once, and what is repeated. */
  oneShot: number;
  repeat: number;
  rateHz: number;
  octaves: number;
  isPacked: boolean;
}

function voiceOf(body: Uint8Array | undefined): Voice {
  if (!body || body.length < VHDR_BYTES) throw new SoundRefusal(said('sound.hasNoFormat'));
  const view = viewOf(body);
  const packing = body[0x0f]!;
  const rateHz = view.getUint16(0x0c);
  if (packing > 1)
    throw new SoundRefusal(said('sound.compressionIsNotRead', { compression: String(packing) }));
  if (rateHz === 0)
    throw new SoundRefusal(said('sound.channelsOrRateAreNone', { channels: 1, rateHz }));
  return {
    oneShot: view.getUint32(0),
    repeat: view.getUint32(4),
    rateHz,
    octaves: body[0x0e]!,
    isPacked: packing === 1,
  };
}

function valuesIn(body: Uint8Array | undefined, { isPacked }: Voice, channels: 1 | 2): Uint8Array {
  if (!body) throw new SoundRefusal(said('sound.hasNoData'));
  const values = isPacked ? undifferenced(body) : body;
  return channels === 2 ? interleaved(values) : values;
}

/** Throws `SoundRefusal` where it is none, is packed in a way that is not read, or holds no frame. */
export function readSvx8(bytes: Uint8Array): SoundFile {
  if (bytes.length < HEAD || `${idAt(bytes, 0)} ${idAt(bytes, 8)}` !== 'FORM 8SVX')
    throw new SoundRefusal(said('sound.isNoSvx8'));
  const chunks = firstChunks(bytes, false);
  const voice = voiceOf(chunks.get('VHDR')?.body);
  const channels = isStereo(chunks.get('CHAN')?.body) ? 2 : 1;
  const all = valuesIn(chunks.get('BODY')?.body, voice, channels);
  const there = Math.floor(all.length / channels);
  // Only the highest octave of several is the recording; the others are it at other rates.
  const stated = voice.oneShot + voice.repeat;
  const frames = voice.octaves > 1 && stated > 0 ? Math.min(stated, there) : there;
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  const hasLoop = voice.repeat > 0 && stated <= frames;
  return {
    format: '8svx',
    rateHz: voice.rateHz,
    channels,
    bits: 8,
    coding: { kind: 'linear', bytes: 1, signed: true, bigEndian: true },
    frames,
    data: all.subarray(0, frames * channels),
    loops: hasLoop ? [{ startFrame: voice.oneShot, endFrame: stated }] : [],
    soundsAt: null,
    remarks: there < stated ? [said('sound.dataIsCut', { stated, there })] : [],
  };
}

const isStereo = (body: Uint8Array | undefined): boolean =>
  body !== undefined && body.length >= 4 && viewOf(body).getUint32(0) === BOTH_CHANNELS;
