/**
 * Reads WAV (RIFF WAVE, Multimedia Programming Interface 1.0, and its extensible format): chunks in
 * any order, each bounded by the file; what a size says beyond it is told.
 */
import { said, type Said } from '@/core/said';
import { valueBytes, type PcmCoding } from '../pcm';
import { idAt, iffChunks, viewOf, type IffChunk } from '../files/iff-chunks';
import { CENTS_A_NOTE, MOST_VALUE } from '../sound';
import { SoundRefusal, type FileLoop, type SoundFile } from '../sound-file';

const HEAD = 12;
const CHUNK_HEAD = 8;
const MOST_CHANNELS = 64;
const SMPL_BYTES = 36;
const LOOP_BYTES = 24;
const MOST_LOOPS = 1000;
const STREAMED = 0xffffffff;
const EXTENSIBLE = 0xfffe;
const WHOLE_NOTE = 2 ** 32;

interface Format {
  coding: PcmCoding;
  channels: number;
  rateHz: number;
  bits: number;
  align: number;
}

function formatOf(body: Uint8Array): Format {
  if (body.length < 16) throw new SoundRefusal(said('sound.formatIsCut'));
  const view = viewOf(body);
  const tag = view.getUint16(0, true);
  const isExtensible = tag === EXTENSIBLE && body.length >= 40;
  const kind = isExtensible ? view.getUint16(24, true) : tag;
  const channels = view.getUint16(2, true);
  const rateHz = view.getUint32(4, true);
  const container = view.getUint16(14, true);
  const valid = isExtensible ? view.getUint16(18, true) : 0;
  const coding = codingOf(kind, container);
  if (!coding) throw new SoundRefusal(said('sound.codingIsNotRead', { kind, bits: container }));
  if (channels === 0 || channels > MOST_CHANNELS || rateHz === 0)
    throw new SoundRefusal(said('sound.channelsOrRateAreNone', { channels, rateHz }));
  return { coding, channels, rateHz, bits: valid || container, align: view.getUint16(12, true) };
}

function codingOf(kind: number, bits: number): PcmCoding | null {
  if (kind === 6 && bits === 8) return { kind: 'a-law' };
  if (kind === 7 && bits === 8) return { kind: 'u-law' };
  if (kind === 3 && (bits === 32 || bits === 64))
    return { kind: 'float', bytes: bits === 32 ? 4 : 8, bigEndian: false };
  if (kind !== 1 || bits < 1 || bits > 32) return null;
  const bytes = Math.ceil(bits / 8) as 1 | 2 | 3 | 4;
  return { kind: 'linear', bytes, signed: bytes > 1, bigEndian: false };
}

/** Pitch and loops, as far as the chunk has them. */
function samplerFacts(body: Uint8Array): Pick<SoundFile, 'loops' | 'soundsAt'> {
  if (body.length < SMPL_BYTES) return { loops: [], soundsAt: null };
  const view = viewOf(body);
  const unity = view.getUint32(0x0c, true);
  const soundsAt = CENTS_A_NOTE * (unity + view.getUint32(0x10, true) / WHOLE_NOTE);
  const room = Math.floor((body.length - SMPL_BYTES) / LOOP_BYTES);
  const count = Math.min(view.getUint32(0x1c, true), room, MOST_LOOPS);
  const loops = Array.from({ length: count }, (_, i): FileLoop => {
    const at = SMPL_BYTES + i * LOOP_BYTES;
    const startFrame = view.getUint32(at + 0x08, true);
    return { startFrame, endFrame: view.getUint32(at + 0x0c, true) + 1 };
  });
  return { loops, soundsAt: unity > MOST_VALUE ? null : soundsAt };
}

/** Throws `SoundRefusal` where it is none, or holds no frame. */
export function readWav(bytes: Uint8Array): SoundFile {
  if (bytes.length < HEAD || idAt(bytes, 0) !== 'RIFF' || idAt(bytes, 8) !== 'WAVE')
    throw new SoundRefusal(said('sound.isNoWav'));
  let format: Format | null = null;
  let data: (IffChunk & { isStreamed: boolean }) | null = null;
  let facts: Pick<SoundFile, 'loops' | 'soundsAt'> = { loops: [], soundsAt: null };
  for (const chunk of iffChunks(bytes, true)) {
    if (chunk.id === 'fmt ') format ??= formatOf(chunk.body);
    if (chunk.id === 'smpl') facts = samplerFacts(chunk.body);
    if (chunk.id !== 'data' || data) continue;
    // A size of nothing at the end of a file is that of a stream.
    const isStreamed = chunk.stated === STREAMED || (chunk.stated === 0 && isLast(bytes, chunk));
    data = { ...chunk, isStreamed, body: isStreamed ? restOf(bytes, chunk) : chunk.body };
  }
  if (!format) throw new SoundRefusal(said('sound.hasNoFormat'));
  if (!data) throw new SoundRefusal(said('sound.hasNoData'));
  return wavOf(format, data, facts);
}

const restOf = (bytes: Uint8Array, { body }: IffChunk): Uint8Array =>
  bytes.subarray(body.byteOffset - bytes.byteOffset);

/** Whether what follows a chunk is no other one. */
function isLast(bytes: Uint8Array, chunk: IffChunk): boolean {
  const rest = restOf(bytes, chunk);
  return rest.length < CHUNK_HEAD || !/^[ -~]{4}$/.test(idAt(rest, 0));
}

function wavOf(
  { coding, channels, rateHz, bits, align }: Format,
  { stated, body, isStreamed }: IffChunk & { isStreamed: boolean },
  facts: Pick<SoundFile, 'loops' | 'soundsAt'>,
): SoundFile {
  const frameBytes = valueBytes(coding) * channels;
  const frames = Math.floor(body.length / frameBytes);
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  const remarks: Said[] = [];
  if (isStreamed) remarks.push(said('sound.lengthIsNotSaid', { there: body.length }));
  else if (body.length < stated)
    remarks.push(said('sound.dataIsCut', { stated, there: body.length }));
  if (align !== frameBytes) remarks.push(said('sound.alignIsOdd', { align, frameBytes }));
  const loops = facts.loops.filter(
    ({ startFrame, endFrame }) => startFrame < endFrame && endFrame <= frames,
  );
  if (loops.length < facts.loops.length)
    remarks.push(said('sound.loopsLieNowhere', { count: facts.loops.length - loops.length }));
  const data = body.subarray(0, frames * frameBytes);
  const { soundsAt } = facts;
  return { format: 'wav', rateHz, channels, bits, coding, frames, data, loops, soundsAt, remarks };
}
