/** Whether an image holds a 16-sector catalogue, by the whole chain of its sectors. */
import type { ByteSource } from '@/core/bits/byte-source';
import { SECTOR, CONTENTS_TRACK, PAIRS } from './records';
import { said, type Said } from '@/core/said';

export interface CatalogueEvidence {
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
  const [track, sector, tracks] = [contents[1]!, contents[2]!, contents[0x34]!];
  if (track !== CONTENTS_TRACK || sector === 0 || sector >= 16) return 0;
  const catalogue = await source.read((CONTENTS_TRACK * 16 + sector) * SECTOR, SECTOR);
  if (catalogue.length < SECTOR || catalogue[1]! >= tracks || catalogue[2]! >= 16) return 0;
  reasons.push(said('catalogue16.theCatalogueIsWhere'));
  // Its first sector stands at the same place in both orders of sectors: only the others tell
  // them apart.
  if (!(await isWholeCatalogue(source, sector))) return 0.15;
  reasons.push(said('catalogue16.itsSectorsLeadFrom'));
  return 0.25;
}

export async function probeCatalogue16(source: ByteSource): Promise<CatalogueEvidence | null> {
  const contents = await source.read(CONTENTS_TRACK * 16 * SECTOR, SECTOR);
  if (contents.length < SECTOR) return null;
  const [tracks, sectors] = [contents[0x34]!, contents[0x35]!];
  if (sectors !== 16 || tracks < 18 || tracks > 80) return null;
  const reasons = [said('catalogue16.theTableOfContents', { tracks, sectors })];
  let confidence = 0.35;
  if (contents[0x36] === 0 && contents[0x37] === 1) {
    confidence += 0.2;
    reasons.push(said('catalogue16.sectorsOf256Bytes'));
  }
  if (contents[0x27] === PAIRS) {
    confidence += 0.2;
    reasons.push(said('catalogue16.n122PairsA'));
  }
  confidence += await weighCatalogue(source, contents, reasons);
  return confidence >= 0.6
    ? { tracks, sectors, confidence: Math.min(1, confidence), reasons }
    : null;
}

/** Each sector of the catalogue leads to the one below it, and the first to none. */
async function isWholeCatalogue(source: ByteSource, last: number): Promise<boolean> {
  const track = await source.read(CONTENTS_TRACK * 16 * SECTOR, 16 * SECTOR);
  for (let sector = last; sector > 0; sector--) {
    const at = sector * SECTOR;
    const [nextTrack, nextSector] = [track[at + 1], track[at + 2]];
    if (
      sector > 1
        ? nextTrack !== CONTENTS_TRACK || nextSector !== sector - 1
        : nextTrack !== 0 || nextSector !== 0
    )
      return false;
  }
  return true;
}
