/**
 * What goes out of a disc that was read raw beside its data: the raw image with the sheet that
 * belongs to it, and its tracks of sound as WAV.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { alignedSource } from '@/core/optical/aligned-source';
import type { DiscTrack } from '@/core/optical/disc-tracks';
import { RAW_BYTES } from '@/core/optical/raw-sector';
import { sheetText } from '@/core/optical/sheet-for-disc';
import { DISC_PCM, WAV_HEADER_BYTES, wavHeader } from '@/core/sound/wav/header';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { fairCopies } from './tables';

/** Sectors of sound read at a time. */
const SOUND_SECTORS = 400;

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
  return { name: `${code}.cue`, bytes: text.length, stream };
}

/** A track of sound as WAV; null of a track that is none. */
export function soundPart(source: ByteSource, track: DiscTrack, code: string): DiscPart | null {
  if (track.type !== 'AUDIO') return null;
  return {
    name: `${code}-track-${String(track.number).padStart(2, '0')}.wav`,
    bytes: WAV_HEADER_BYTES + track.sectors * RAW_BYTES,
    stream: () => streamSound(source, track),
  };
}

/** A track of sound out of the raw image, with the header of a WAV file in front. */
async function* streamSound(
  source: ByteSource,
  { sectors, fileSector }: DiscTrack,
): AsyncGenerator<Uint8Array> {
  yield wavHeader(sectors * RAW_BYTES, DISC_PCM);
  for (let at = 0; at < sectors; at += SOUND_SECTORS) {
    const count = Math.min(SOUND_SECTORS, sectors - at);
    yield await source.read((fileSector + at) * RAW_BYTES, count * RAW_BYTES);
  }
}
