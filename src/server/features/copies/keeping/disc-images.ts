/**
 * Raw images of discs that come as files: their tracks, every sector of data looked at, and what is
 * looked into of them.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { toldProblem } from '@/messages/tell';
import { extentsFile } from '@/core/block/extents-file';
import { doubtsOfBlocks } from '@/core/block/image-doubts';
import { ExtentMap, type BlockKnowledge } from '@/core/block/extent-map';
import { looksLikeCue, parseCue } from '@/core/optical/cue';
import { alignedDisc } from '@/core/optical/aligned-source';
import { sectorsOf } from '@/core/optical/disc';
import { discData } from '@/core/optical/disc-data';
import { isRaw, type DiscTrack } from '@/core/optical/disc-tracks';
import { isScrambled } from '@/core/optical/header-survey';
import { seenTracks } from '@/core/optical/seen-tracks';
import { discWithoutSheet } from '@/core/optical/sheet-for-disc';
import { RAW_BYTES, type SectorVerdict } from '@/core/optical/raw-sector';
import type { Problem } from '@/core/problems';
import { storeSource, type StoredImage } from '@/server/platform/blobs/store-source';
import type { Database } from '@/server/platform/db/database';
import { packed } from '@/server/features/sittings/blocks/block-sittings';
import type { NewFairCopy } from './fair-copies';
import { UserError } from '@/server/platform/errors';
import { said } from '@/core/said';

const known = (grade: BlockKnowledge['grade']): BlockKnowledge => ({
  grade,
  tries: 1,
  group: 0,
  pace: 0,
});
const GRADE_OF: Record<SectorVerdict, BlockKnowledge> = {
  good: known('firm'),
  repairable: known('mended'),
  unrepairable: known('doubtful'),
};

interface RawDisc {
  /** The image with its sectors in step. */
  source: ByteSource;
  tracks: DiscTrack[];
  problems: Problem[];
}

/**
 * The tracks of a raw image, by its cue sheet where there is one; null where it is no raw image of
 * a disc.
 */
export async function rawDiscOf(source: ByteSource, cue: string | null): Promise<RawDisc | null> {
  if (cue !== null) {
    if (!looksLikeCue(cue)) throw new UserError(said('copies.theSheetBesideIt'), 422);
    const sheet = parseCue(cue);
    if (sheet.files.length !== 1)
      throw new UserError(said('copies.theCueSheetSpeaks', { files: sheet.files.length }), 422);
    return asSeen(await alignedDisc(sheet, [source]));
  }
  const disc = await discWithoutSheet(source, 'image');
  return disc && asSeen({ sheet: disc.sheet, sources: [disc.source] });
}

async function asSeen({
  sheet,
  sources,
}: Awaited<ReturnType<typeof alignedDisc>>): Promise<RawDisc | null> {
  const { tracks, problems } = await seenTracks(sheet, sources);
  if (tracks.length === 0 || tracks.some(({ type }) => !isRaw(type) && type !== 'AUDIO'))
    return null;
  return { source: sources[0]!, tracks, problems: [...sheet.problems, ...problems] };
}

type DiscCopy = Required<Pick<NewFairCopy, 'image' | 'fromBlocks' | 'captureBlob' | 'problems'>> & {
  image: StoredImage;
};

/**
 * What a fair copy of it is made of: the raw bytes as they are, and what they hold as data.
 */
export async function copyOfRawDisc(
  db: Database,
  raw: StoredImage,
  { source, tracks, problems }: RawDisc,
  description: Record<string, string>,
): Promise<DiscCopy> {
  const map = await sectorsSeen(source, tracks, Math.floor(source.size / RAW_BYTES));
  const data = await discData([source], tracks);
  const image = data ? await storeSource(db, data) : raw;
  const sidecar = extentsFile(map, {
    sha256: raw.sha256,
    blockBytes: RAW_BYTES,
    problems: problems.map(toldProblem),
    description,
  });
  return {
    image,
    captureBlob: raw.blobId,
    problems,
    fromBlocks: {
      kept: {
        blockBytes: RAW_BYTES,
        blocks: map.blocks,
        extents: packed([...map.extents()]),
        medium: null,
        tracks,
        readings: 1,
        differing: [],
      },
      sidecar: `${JSON.stringify(sidecar, null, 1)}\n`,
      inDoubt: doubtsOfBlocks(map, RAW_BYTES, tracks),
    },
  };
}

/** How each sector of a raw image came out. */
async function sectorsSeen(
  source: ByteSource,
  tracks: readonly DiscTrack[],
  blocks: number,
): Promise<ExtentMap> {
  const map = new ExtentMap(blocks);
  for (const track of tracks) {
    const { fileSector, startLba, sectors } = track;
    // Sound has no check of its own: it is what the file holds.
    if (track.type === 'AUDIO') {
      map.update(fileSector, fileSector + sectors, () => GRADE_OF.good);
      continue;
    }
    const scrambled = await isScrambled(source, track);
    for await (const { lba, sector } of sectorsOf(source, track, scrambled, null)) {
      const at = fileSector + lba - startLba;
      map.update(at, at + 1, () => GRADE_OF[sector.verdict]);
    }
  }
  return map;
}
