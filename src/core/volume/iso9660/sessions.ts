/**
 * Later sessions of an ISO 9660 disc (ECMA-119; ECMA-168 for discs written in several goes): each
 * begins with descriptors of its own, sixteen sectors behind its beginning, and counts its blocks
 * from the beginning of the disc.
 */
import { placedSource, sliceSource, type ByteSource } from '@/core/bits/byte-source';
import { ascii, FIRST_DESCRIPTOR, LIMITS, SECTOR } from './records';

/** Sectors looked through at a time. */
const SCANNED = 512;
const MOST_SESSIONS = 99;
/** Where a descriptor has its root's record, and that the block of its extent. */
const ROOT_BLOCK = 156 + 2;
const PRIMARY = 1;
const END_OF_SET = 255;

interface Behind {
  /** First sectors of the sessions. */
  sessions: number[];
  /** The first sector behind the volume that holds anything; null where all is zeros. */
  firstUsed: number | null;
}

const isPrimary = (sector: Uint8Array): boolean =>
  sector[0] === PRIMARY && ascii(sector.subarray(1, 6)) === 'CD001' && sector[6] === 1;

/** What lies in the sectors from `from` on, of a volume that says that it ends with `end`. */
export async function lookBehind(source: ByteSource, from: number, end: number): Promise<Behind> {
  const found: Behind = { sessions: [], firstUsed: null };
  for (let first = from; first * SECTOR < source.size; first += SCANNED) {
    const bytes = await source.read(first * SECTOR, SCANNED * SECTOR);
    for (let at = 0; at < bytes.length; at += SECTOR) {
      const sector = bytes.subarray(at, at + SECTOR);
      const number = first + at / SECTOR;
      const isBehind = found.firstUsed === null && number >= end;
      if (isBehind && sector.some((byte) => byte !== 0)) found.firstUsed = number;
      const isOne = isPrimary(sector) && number >= FIRST_DESCRIPTOR;
      if (isOne && found.sessions.length < MOST_SESSIONS)
        found.sessions.push(number - FIRST_DESCRIPTOR);
    }
  }
  return found;
}

/** The block of a volume's root, by the descriptor that begins at a byte. */
async function rootBlock(source: ByteSource, at: number): Promise<number> {
  const bytes = await source.read(at + ROOT_BLOCK, 4);
  return bytes.length < 4 ? 0 : new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
}

/** A root lists itself first: its record there leads to where it lies. */
async function isRoot(source: ByteSource, block: number, listedAs: number): Promise<boolean> {
  const bytes = await source.read(block * SECTOR, 34);
  if (bytes.length < 34 || bytes[32] !== 1 || bytes[33] !== 0) return false;
  return new DataView(bytes.buffer, bytes.byteOffset).getUint32(2, true) === listedAs;
}

/** Descriptors of a set, with the one that ends it. */
async function setLength(source: ByteSource, first: number): Promise<number> {
  for (let i = 0; i < LIMITS.descriptors; i++) {
    const head = await source.read((first + i) * SECTOR, 6);
    if (ascii(head.subarray(1, 6)) !== 'CD001') return i;
    if (head[0] === END_OF_SET) return i + 1;
  }
  return LIMITS.descriptors;
}

/**
 * The disc as a session that begins in sector `start` sees it: with its descriptors where a disc has
 * them. Of one whose blocks count from its own beginning, what lies behind that; `offset` is where it
 * begins in the disc.
 */
export async function sessionSource(
  source: ByteSource,
  start: number,
): Promise<{ session: ByteSource; offset: number }> {
  const shift = start * SECTOR;
  const first = start + FIRST_DESCRIPTOR;
  const root = await rootBlock(source, first * SECTOR);
  if (!(await isRoot(source, root, root)) && (await isRoot(source, start + root, root)))
    return { session: sliceSource(source, shift, source.size - shift), offset: shift };
  return { session: await withDescriptors(source, first, 0), offset: 0 };
}

/** A disc whose descriptors are a set that stands elsewhere, its blocks `base` sectors further on. */
async function withDescriptors(
  source: ByteSource,
  first: number,
  base: number,
): Promise<ByteSource> {
  const descriptors = sliceSource(
    source,
    first * SECTOR,
    (await setLength(source, first)) * SECTOR,
  );
  return placedSource(base * SECTOR + source.size, [
    { at: base * SECTOR, source },
    { at: FIRST_DESCRIPTOR * SECTOR, source: descriptors },
  ]);
}

/** Sectors of an image in which its root is looked for, where it is not where it should be. */
const ROOT_WITHIN = 4096;

/**
 * How many sectors of its disc an image lacks at its beginning: that of one later session, or of a
 * track behind sound. Its descriptors lead to a root that stands so much earlier in the image, and
 * leads to itself by the same number.
 */
export async function sectorsBefore(source: ByteSource): Promise<number> {
  const root = await rootBlock(source, FIRST_DESCRIPTOR * SECTOR);
  if (root <= FIRST_DESCRIPTOR || (await isRoot(source, root, root))) return 0;
  const end = Math.min(root, ROOT_WITHIN, Math.floor(source.size / SECTOR));
  for (let sector = FIRST_DESCRIPTOR + 1; sector < end; sector++)
    if (await isRoot(source, sector, root)) return root - sector;
  return 0;
}

/** The disc that an image lacks so many first sectors of, with zeros in their place. */
export const asOnDisc = (source: ByteSource, base: number): Promise<ByteSource> =>
  withDescriptors(source, FIRST_DESCRIPTOR, base);
