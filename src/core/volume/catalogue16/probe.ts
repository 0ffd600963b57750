/** Whether an image holds a 16-sector catalogue, by the whole chain of its sectors. */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { bytesIn, numberIn } from '../record';
import {
  CONTENTS,
  CONTENTS_FIELDS,
  CONTENTS_TRACK,
  DELETED,
  LAST_SECTOR,
  LINK,
  PAIRS,
  SECTOR,
  SECTORS,
  entriesIn,
  isWellFormed,
} from './records';
import { said, type Said } from '@/core/said';

export interface CatalogueEvidence {
  /** The table of contents is gone; the catalogue is there. */
  areContentsLost: boolean;
  tracks: number;
  sectors: number;
  confidence: number;
  reasons: Said[];
}

/** How much the catalogue speaks for it. */
async function weighCatalogue(
  source: ByteSource,
  contents: Uint8Array,
  reasons: Said[],
): Promise<number> {
  const [track = 0, sector = 0] = bytesIn(contents, CONTENTS_FIELDS.catalogueSector);
  const tracks = numberIn(contents, CONTENTS_FIELDS.tracks);
  if (track !== CONTENTS_TRACK || sector === 0 || sector >= SECTORS) return 0;
  const catalogue = await source.read(CONTENTS + sector * SECTOR, SECTOR);
  const [nextTrack = 0, nextSector = 0] = bytesIn(catalogue, LINK.nextSector);
  if (catalogue.length < SECTOR || nextTrack >= tracks || nextSector >= SECTORS) return 0;
  reasons.push(said('catalogue16.theCatalogueIsWhere'));
  // Its first sector stands at the same place in both orders of sectors: only the others tell
  // them apart.
  if (!(await isWholeCatalogue(source, sector))) return 0.15;
  reasons.push(said('catalogue16.itsSectorsLeadFrom'));
  return 0.25;
}

/** Where the table of contents is lost: a whole catalogue where it belongs, with files in it. */
async function byCatalogue(source: ByteSource): Promise<CatalogueEvidence | null> {
  const tracks = Math.floor(source.size / (SECTORS * SECTOR));
  const isThere = tracks >= FEWEST_TRACKS && tracks <= MOST_TRACKS;
  if (!isThere || !(await isWholeCatalogue(source, LAST_SECTOR))) return null;
  const track = await source.read(CONTENTS + SECTOR, LAST_SECTOR * SECTOR);
  const entries = Array.from({ length: LAST_SECTOR }, (_, i) => track.subarray(i * SECTOR))
    .flatMap(entriesIn)
    .filter((entry) => entry[0] !== 0 && entry[0] !== DELETED);
  if (entries.length === 0 || !entries.every((entry) => isWellFormed(entry, tracks))) return null;
  return {
    areContentsLost: true,
    tracks,
    sectors: SECTORS,
    confidence: OF_WHAT_IS_LEFT,
    reasons: [said('catalogue16.itsSectorsLeadFrom')],
  };
}

const FEWEST_TRACKS = 18;
const MOST_TRACKS = 80;

export async function probeCatalogue16(source: ByteSource): Promise<CatalogueEvidence | null> {
  return (await byContents(source)) ?? byCatalogue(source);
}

async function byContents(source: ByteSource): Promise<CatalogueEvidence | null> {
  const contents = await source.read(CONTENTS, SECTOR);
  if (contents.length < SECTOR) return null;
  const tracks = numberIn(contents, CONTENTS_FIELDS.tracks);
  const sectors = numberIn(contents, CONTENTS_FIELDS.trackSectors);
  if (sectors !== SECTORS || tracks < FEWEST_TRACKS || tracks > MOST_TRACKS) return null;
  const reasons = [said('catalogue16.theTableOfContents', { tracks, sectors })];
  let confidence = 0.35;
  if (numberIn(contents, CONTENTS_FIELDS.sectorBytes) === SECTOR) {
    confidence += 0.2;
    reasons.push(said('catalogue16.sectorsOf256Bytes'));
  }
  if (numberIn(contents, CONTENTS_FIELDS.pairsAList) === PAIRS) {
    confidence += 0.2;
    reasons.push(said('catalogue16.n122PairsA'));
  }
  confidence += await weighCatalogue(source, contents, reasons);
  return confidence >= 0.6
    ? { areContentsLost: false, tracks, sectors, confidence: Math.min(1, confidence), reasons }
    : null;
}

/** Each sector of the catalogue leads to the one below it, and the first to none. */
async function isWholeCatalogue(source: ByteSource, last: number): Promise<boolean> {
  const track = await source.read(CONTENTS, SECTORS * SECTOR);
  for (let sector = last; sector > 0; sector--) {
    const [nextTrack, nextSector] = bytesIn(track, LINK.nextSector, sector * SECTOR);
    if (
      sector > 1
        ? nextTrack !== CONTENTS_TRACK || nextSector !== sector - 1
        : nextTrack !== 0 || nextSector !== 0
    )
      return false;
  }
  return true;
}
