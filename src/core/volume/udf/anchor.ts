/** Anchors of UDF volumes, which lead to their descriptors (ECMA-167 part 3, 10.2). */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import type { Extent } from '../volume';
import { SECTOR, viewOf } from './records';
import { readTag, TAG } from './tags';

/** Where an anchor may stand; the last sector counts from the end of the image. */
function anchorPlaces(size: number, sectorBytes: number): number[] {
  const last = Math.floor(size / sectorBytes) - 1;
  return [...new Set([256, last - 256, last])].filter((sector) => sector > 0);
}

export interface Anchor {
  at: number;
  /** Bytes of a sector of what the volume was made on. */
  sectorBytes: number;
  main: Extent;
  reserve: Extent;
}

/** Of discs, then of hard disks and flash, then of what is rarer. */
const SECTOR_SIZES = Object.freeze([SECTOR, 512, 4096, 1024]);
const ANCHOR_BYTES = 512;

export async function findAnchor(source: ByteSource): Promise<Anchor | null> {
  for (const sectorBytes of SECTOR_SIZES)
    for (const sector of anchorPlaces(source.size, sectorBytes)) {
      const anchor = await anchorAt(source, sector, sectorBytes);
      if (anchor) return anchor;
    }
  return null;
}

/** An anchor says which sector it stands in: so one of another size of sector is told apart. */
async function anchorAt(
  source: ByteSource,
  sector: number,
  sectorBytes: number,
): Promise<Anchor | null> {
  const at = sector * sectorBytes;
  const bytes = await source.read(at, ANCHOR_BYTES);
  const tag = readTag(bytes, null, at, null);
  if (tag?.id !== TAG.anchor || !tag.sound || bytes.length < 32) return null;
  const view = viewOf(bytes);
  if (view.getUint32(12, true) !== sector) return null;
  const extent = (field: number) => ({
    offset: view.getUint32(field + 4, true) * sectorBytes,
    length: view.getUint32(field, true),
  });
  return { at, sectorBytes, main: extent(16), reserve: extent(24) };
}

/** Sectors in which the descriptors are looked for where no anchor leads to them. */
const MOST_SECTORS = 1024;
/** Sectors that a sequence has at least. */
const SEQUENCE = 16;
const DESCRIPTORS: readonly number[] = [TAG.primary, TAG.partition, TAG.logicalVolume];

/** What an anchor would lead to: the first sequences of descriptors that say where they stand. */
async function withoutAnchor(source: ByteSource): Promise<Anchor | null> {
  for (const sectorBytes of SECTOR_SIZES) {
    const [first, second] = await sequencesOf(source, sectorBytes);
    if (first === undefined) continue;
    const extent = (sector: number) => ({
      offset: sector * sectorBytes,
      length: SEQUENCE * sectorBytes,
    });
    const [main, reserve] = [extent(first), extent(second ?? first)];
    return { at: main.offset, sectorBytes, main, reserve };
  }
  return null;
}

/** The first sector of each sequence, two at most. */
async function sequencesOf(source: ByteSource, sectorBytes: number): Promise<number[]> {
  const found: number[] = [];
  for (let sector = SEQUENCE; sector < MOST_SECTORS && found.length < 2; sector++) {
    const at = sector * sectorBytes;
    const bytes = await source.read(at, ANCHOR_BYTES);
    const tag = readTag(bytes, null, at, null);
    if (!tag?.sound || !DESCRIPTORS.includes(tag.id)) continue;
    const saysSo = viewOf(bytes).getUint32(12, true) === sector;
    if (saysSo && sector >= (found[0] ?? 0) + SEQUENCE) found.push(sector);
  }
  return found;
}

/** The anchor, or what it should lead to; what is missing is told. */
export async function anchorOf(source: ByteSource, problems: ProblemList): Promise<Anchor | null> {
  const anchor = await findAnchor(source);
  if (!anchor) {
    problems.report('udf-anchor-missing', null, said('udf.noAnchorStandsAt'));
    const found = await withoutAnchor(source);
    if (!found) return null;
    const what = said('udf.theDescriptorsWereFound', { at: found.at / found.sectorBytes });
    problems.report('udf-anchor-missing', found.at, what);
    return found;
  }
  const { at, sectorBytes } = anchor;
  const [sector] = anchorPlaces(source.size, sectorBytes);
  if (sector !== undefined && at !== sector * sectorBytes)
    problems.report(
      'udf-anchor-missing',
      sector * sectorBytes,
      said('udf.theAnchorAtSector', { sector, at: at / sectorBytes }),
    );
  return anchor;
}
