/**
 * Raw images of discs that come as files: their tracks, every sector of data looked at, and what is
 * looked into of them.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { toldProblem } from '@/messages/tell';
import { extentsFile } from '@/core/block/extents-file';
import { ExtentMap, unsoundRuns, type BlockKnowledge } from '@/core/block/extent-map';
import { looksLikeCue, parseCue } from '@/core/optical/cue';
import { isRaw, sectorsOf, tracksOf, userSource, type DiscTrack } from '@/core/optical/disc';
import { isScrambled } from '@/core/optical/scrambled';
import { sheetFor } from '@/core/optical/sheet-for-disc';
import { RAW_BYTES, USER_SECTOR_BYTES, type SectorVerdict } from '@/core/optical/raw-sector';
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
    const { tracks, problems } = tracksOf(sheet, [source.size]);
    if (tracks.length === 0 || tracks.some(({ type }) => !isRaw(type) && type !== 'AUDIO'))
      return null;
    return { tracks, problems: [...sheet.problems, ...problems] };
  }
  if (source.size % RAW_BYTES !== 0 || source.size === 0) return null;
  const sheet = await sheetFor(source, 'image');
  return sheet && { tracks: tracksOf(sheet, [source.size]).tracks, problems: sheet.problems };
}

type DiscCopy = Required<Pick<NewFairCopy, 'image' | 'fromBlocks' | 'captureBlob' | 'problems'>> & {
  image: StoredImage;
};

/**
 * What a fair copy of it is made of: the raw bytes as they are, and of the first track of data its
 * user bytes.
 */
export async function copyOfRawDisc(
  db: Database,
  source: ByteSource,
  raw: StoredImage,
  { tracks, problems }: RawDisc,
  description: Record<string, string>,
): Promise<DiscCopy> {
  const { map, scrambled } = await sectorsSeen(source, tracks, Math.floor(raw.size / RAW_BYTES));
  const data = tracks.find(({ type }) => type !== 'AUDIO');
  const image = data
    ? await storeSource(db, userSource(source, data, scrambled.has(data.number)))
    : raw;
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
      inDoubt: data ? doubtsOfTrack(map, data) : [],
    },
  };
}

/** How each sector of a raw image came out, and the numbers of tracks that are scrambled. */
async function sectorsSeen(
  source: ByteSource,
  tracks: readonly DiscTrack[],
  blocks: number,
): Promise<{ map: ExtentMap; scrambled: Set<number> }> {
  const map = new ExtentMap(blocks);
  const scrambled = new Set<number>();
  for (const track of tracks) {
    const { fileSector, startLba, sectors } = track;
    // Sound has no check of its own: it is what the file holds.
    if (track.type === 'AUDIO') {
      map.update(fileSector, fileSector + sectors, () => GRADE_OF.good);
      continue;
    }
    const isTrackScrambled = await isScrambled(source, track);
    if (isTrackScrambled) scrambled.add(track.number);
    for await (const { lba, sector } of sectorsOf(source, track, isTrackScrambled, null)) {
      const at = fileSector + lba - startLba;
      map.update(at, at + 1, () => GRADE_OF[sector.verdict]);
    }
  }
  return { map, scrambled };
}

/** Ranges of a track's user bytes that no sound sector gave. */
function doubtsOfTrack(map: ExtentMap, { fileSector, sectors }: DiscTrack) {
  return unsoundRuns(map, fileSector, fileSector + sectors).map(({ from, to }) => ({
    offset: (from - fileSector) * USER_SECTOR_BYTES,
    length: (to - from) * USER_SECTOR_BYTES,
  }));
}
