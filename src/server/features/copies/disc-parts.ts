/**
 * What goes out of a disc that was read raw beside its data: the raw image with the sheet that
 * belongs to it, and its tracks of sound as WAV.
 */
import { fileNameOfCode } from '@/core/medium-code';
import type { ByteSource } from '@/core/bits/byte-source';
import { alignedSource } from '@/core/optical/aligned-source';
import { hasPreEmphasis, type DiscTrack } from '@/core/optical/disc-tracks';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { sheetText } from '@/core/optical/sheet-for-disc';
import { DeEmphasis } from '@/core/sound/signal/de-emphasis';
import { DISC_PCM, WAV_HEADER_BYTES, wavHeader } from '@/core/sound/wav/header';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { fairCopies } from './tables';

/** Sectors of sound read at a time. */
export const SOUND_SECTORS = 400;

type Copy = Pick<typeof fairCopies.$inferSelect, 'captureBlob' | 'blocks' | 'problems'>;

/** The tracks of a disc that was read raw; empty of everything else. */
export const rawTracksOf = ({ captureBlob, blocks }: Copy): readonly DiscTrack[] =>
  captureBlob === null ? [] : (blocks?.tracks ?? []);

/** The raw image; as it was read, in step, where it was out of it. */
export async function rawImage(db: Executor, { captureBlob, problems }: Copy): Promise<ByteSource> {
  const source = await blobSource(db, captureBlob!);
  const isOut = problems.some(({ kind }) => kind === 'sectors-out-of-step');
  return isOut ? (await alignedSource(source)).source : source;
}

/** A file that is made of the raw image. */
export interface DiscPart {
  name: string;
  bytes: number;
  stream(): AsyncGenerator<Uint8Array>;
}

/** The sheet that goes with the raw image. */
export function sheetPart(tracks: readonly DiscTrack[], rawName: string, code: string): DiscPart {
  const text = new TextEncoder().encode(sheetText(rawName, tracks));
  async function* stream() {
    yield text;
  }
  return { name: `${fileNameOfCode(code)}.cue`, bytes: text.length, stream };
}

/** How a track of sound goes out. */
export interface SoundWanted {
  /** With its pre-emphasis taken out, where it has any: 24 bits deep then. */
  isDeEmphasised?: boolean;
}

export const DE_EMPHASISED_PCM = Object.freeze({ ...DISC_PCM, bits: 24 as const });

/** A track of sound as WAV; null of a track that is none. */
export function soundPart(
  source: ByteSource,
  track: DiscTrack,
  code: string,
  { isDeEmphasised = false }: SoundWanted = {},
): DiscPart | null {
  if (track.type !== 'AUDIO') return null;
  const isChanged = isDeEmphasised && hasPreEmphasis(track);
  const format = isChanged ? DE_EMPHASISED_PCM : DISC_PCM;
  const pcmBytes = (track.sectors * RAW_BYTES * format.bits) / DISC_PCM.bits;
  async function* stream(): AsyncGenerator<Uint8Array> {
    yield wavHeader(pcmBytes, format);
    if (isChanged) yield* deEmphasised(pcmOf(source, track));
    else yield* pcmOf(source, track);
  }
  return {
    name: `${fileNameOfCode(code)}-track-${String(track.number).padStart(2, '0')}${isChanged ? '-flat' : ''}.wav`,
    bytes: WAV_HEADER_BYTES + pcmBytes,
    stream,
  };
}

async function* deEmphasised(pcm: AsyncGenerator<Uint8Array>): AsyncGenerator<Uint8Array> {
  const filter = new DeEmphasis(DISC_PCM.channels);
  for await (const piece of pcm) yield filter.take(piece);
}

/** The frames of a track of sound out of the raw image. */
async function* pcmOf(
  source: ByteSource,
  { sectors, fileSector }: DiscTrack,
): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < sectors; at += SOUND_SECTORS) {
    const count = Math.min(SOUND_SECTORS, sectors - at);
    yield await source.read((fileSector + at) * RAW_BYTES, count * RAW_BYTES);
  }
}
