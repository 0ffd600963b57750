/**
 * Other readings of a disc, or of copies of it: where each lies beside the disc in question, and
 * its sectors.
 */
import type { ByteSource } from '../bits/byte-source';
import { RAW_BYTES, checkSector } from './raw-sector';
import type { SectorReading } from './readings-together';
import { scramble } from './scramble';
import { isScrambled } from './header-survey';

/** Bits a byte, one bit a byte of the sector, top bit first. */
export const FLAG_BYTES = RAW_BYTES / 8;

/** One byte a byte; null where the drive distrusts none. */
export function flagged(bits: Uint8Array): Uint8Array | null {
  if (bits.length < FLAG_BYTES || bits.every((byte) => byte === 0)) return null;
  return Uint8Array.from({ length: RAW_BYTES }, (_, i) => (bits[i >> 3]! >> (7 - (i & 7))) & 1);
}

/** Another reading of a disc, or of a copy of it: raw sectors in one file. */
export interface OtherReading {
  source: ByteSource;
  flags: ByteSource | null;
  scrambled: boolean;
  /** By how many sectors its file begins later than that of the disc in question. */
  shift: number;
}

/** Sectors at the beginning of which one must have an address, so that a reading has a place. */
const PLACED_BY = 512;

/** Where a reading lies beside a track, by the addresses that its sectors have; null where none has. */
export async function placeReading(
  source: ByteSource,
  { startLba, fileSector }: { startLba: number; fileSector: number },
  flags: ByteSource | null = null,
): Promise<OtherReading | null> {
  const sectors = Math.floor(source.size / RAW_BYTES);
  const scrambled = await isScrambled(source, { fileSector: 0, sectors });
  for (let at = 0; at < Math.min(sectors, PLACED_BY); at++) {
    const sector = (await source.read(at * RAW_BYTES, RAW_BYTES)).slice();
    if (scrambled) scramble(sector);
    const { verdict, address } = checkSector(sector, at, null);
    if (verdict === 'unrepairable' || address === null) continue;
    return { source, flags, scrambled, shift: address - startLba + fileSector - at };
  }
  return null;
}

/** One sector of a reading; null where it does not reach there. */
async function sectorIn(
  { source, flags, scrambled, shift }: OtherReading,
  fileSector: number,
): Promise<SectorReading | null> {
  const at = fileSector - shift;
  if (at < 0) return null;
  const bytes = (await source.read(at * RAW_BYTES, RAW_BYTES)).slice();
  if (bytes.length < RAW_BYTES) return null;
  if (scrambled) scramble(bytes);
  return { bytes, flags: flags && flagged(await flags.read(at * FLAG_BYTES, FLAG_BYTES)) };
}

/** The same sector of the other readings. */
export async function sectorsIn(
  others: readonly OtherReading[],
  fileSector: number,
): Promise<SectorReading[]> {
  const found = await Promise.all(others.map((other) => sectorIn(other, fileSector)));
  return found.filter((reading) => reading !== null);
}
