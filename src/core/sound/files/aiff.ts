/**
 * Reads AIFF and AIFC (the Audio Interchange File Format 1.3, and its extended form of 1991): the
 * coding by COMM, the frames of SSND (unpacked where they are `ima4`), loops by INST and MARK.
 */
import { said, type Said } from '@/core/said';
import { firstChunks, idAt, viewOf } from './iff-chunks';
import { FRAMES_A_PACKET, fromIma4 } from './ima4';
import { valueBytes, type PcmCoding } from '../pcm';
import { CENTS_A_NOTE, MOST_VALUE } from '../sound';
import { SoundRefusal, type FileLoop, type SoundFile } from '../sound-file';

const HEAD = 12;
const COMM_BYTES = 18;
const INST_BYTES = 20;
const SSND_HEAD = 8;
const EXPONENT_BIAS = 16_446;
const MOST_CHANNELS = 64;
const UNPACKED_BITS = 16;

/** The 80-bit float of a rate; 0 where it is none. */
function rateAt(view: DataView, at: number): number {
  const exponent = view.getUint16(at) & 0x7fff;
  const mantissa = Number(view.getBigUint64(at + 2));
  const rate = mantissa * 2 ** (exponent - EXPONENT_BIAS);
  return Number.isFinite(rate) ? rate : 0;
}

const linear = (bits: number, bigEndian: boolean, signed = true): PcmCoding | null => {
  const bytes = Math.ceil(bits / 8);
  return bytes >= 1 && bytes <= 4
    ? { kind: 'linear', bytes: bytes as 1 | 2 | 3 | 4, signed, bigEndian }
    : null;
};

function codingOf(compression: string, bits: number): PcmCoding | null {
  switch (compression) {
    case 'NONE':
    case 'twos':
      return linear(bits, true);
    case 'sowt':
      return linear(bits, false);
    case 'raw ':
      return linear(bits, true, false);
    case 'in24':
      return linear(24, true);
    case 'in32':
      return linear(32, true);
    case 'fl32':
    case 'FL32':
      return { kind: 'float', bytes: 4, bigEndian: true };
    case 'fl64':
    case 'FL64':
      return { kind: 'float', bytes: 8, bigEndian: true };
    case 'ulaw':
    case 'ULAW':
      return { kind: 'u-law' };
    case 'alaw':
    case 'ALAW':
      return { kind: 'a-law' };
    default:
      return null;
  }
}

/** Places of markers, by their numbers. */
function markersOf(body: Uint8Array | undefined): Map<number, number> {
  const markers = new Map<number, number>();
  if (!body || body.length < 2) return markers;
  const view = viewOf(body);
  const count = view.getUint16(0);
  for (let i = 0, at = 2; i < count && at + 7 <= body.length; i++) {
    markers.set(view.getInt16(at), view.getUint32(at + 2));
    const text = 1 + body[at + 6]!;
    at += 6 + text + (text % 2);
  }
  return markers;
}

function loopsOf(body: Uint8Array | undefined, markers: ReadonlyMap<number, number>): FileLoop[] {
  if (!body || body.length < INST_BYTES) return [];
  const view = viewOf(body);
  return [0x08, 0x0e].flatMap((at) => {
    const startFrame = markers.get(view.getInt16(at + 2));
    const endFrame = markers.get(view.getInt16(at + 4));
    const isLoop = view.getInt16(at) !== 0 && startFrame !== undefined && endFrame !== undefined;
    return isLoop ? [{ startFrame, endFrame }] : [];
  });
}

/** The note of an instrument in cents; its detuning raises it, so that it sounds lower as recorded. */
function soundsAtOf(body: Uint8Array | undefined): number | null {
  if (!body || body.length < INST_BYTES || body[0]! > MOST_VALUE) return null;
  return CENTS_A_NOTE * body[0]! - viewOf(body).getInt8(1);
}

interface Common {
  coding: PcmCoding;
  channels: number;
  rateHz: number;
  bits: number;
  isPacked: boolean;
  /** Frames that there should be. */
  stated: number;
}

function commonOf(body: Uint8Array | undefined, isExtended: boolean): Common {
  if (!body || body.length < COMM_BYTES) throw new SoundRefusal(said('sound.hasNoFormat'));
  const view = viewOf(body);
  const channels = view.getUint16(0);
  const bits = view.getUint16(6);
  const rateHz = Math.round(rateAt(view, 8));
  const compression = isExtended && body.length >= 22 ? idAt(body, 18) : 'NONE';
  const isPacked = compression === 'ima4';
  const coding = isPacked ? linear(UNPACKED_BITS, false) : codingOf(compression, bits);
  if (!coding) throw new SoundRefusal(said('sound.compressionIsNotRead', { compression }));
  if (channels === 0 || channels > MOST_CHANNELS || rateHz < 1)
    throw new SoundRefusal(said('sound.channelsOrRateAreNone', { channels, rateHz }));
  // Of what is packed, packets are counted.
  const stated = view.getUint32(2) * (isPacked ? FRAMES_A_PACKET : 1);
  return { coding, channels, rateHz, bits: isPacked ? UNPACKED_BITS : bits, isPacked, stated };
}

/** The bytes of SSND behind its offset. */
function dataOf(body: Uint8Array | undefined): Uint8Array {
  if (!body || body.length < SSND_HEAD) throw new SoundRefusal(said('sound.hasNoData'));
  return body.subarray(SSND_HEAD + viewOf(body).getUint32(0));
}

/** Throws `SoundRefusal` where it is none, is coded in a way that is not read, or holds no frame. */
export function readAiff(bytes: Uint8Array): SoundFile {
  const form = bytes.length < HEAD ? '' : `${idAt(bytes, 0)} ${idAt(bytes, 8)}`;
  if (form !== 'FORM AIFF' && form !== 'FORM AIFC') throw new SoundRefusal(said('sound.isNoAiff'));
  const chunks = firstChunks(bytes, false);
  const { stated, isPacked, ...common } = commonOf(chunks.get('COMM')?.body, form === 'FORM AIFC');
  const held = dataOf(chunks.get('SSND')?.body);
  const all = isPacked ? fromIma4(held, common.channels) : held;
  const frameBytes = valueBytes(common.coding) * common.channels;
  const there = Math.floor(all.length / frameBytes);
  const frames = Math.min(stated, there);
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  const instrument = chunks.get('INST')?.body;
  const stating = loopsOf(instrument, markersOf(chunks.get('MARK')?.body));
  const loops = stating.filter(
    (each) => each.startFrame < each.endFrame && each.endFrame <= frames,
  );
  const remarks: Said[] = [];
  const bytesOf = (count: number) => count * frameBytes;
  if (there < stated)
    remarks.push(said('sound.dataIsCut', { stated: bytesOf(stated), there: bytesOf(there) }));
  if (loops.length < stating.length)
    remarks.push(said('sound.loopsLieNowhere', { count: stating.length - loops.length }));
  const data = all.subarray(0, bytesOf(frames));
  const soundsAt = soundsAtOf(instrument);
  return { format: 'aiff', ...common, frames, data, loops, soundsAt, remarks };
}
