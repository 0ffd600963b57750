/** The sync and the header of a raw sector (ECMA-130, clause 14.1 and 14.2). */
import { RAW_BYTES, scramble } from './scramble';

export const SYNC = Uint8Array.of(0, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 0);
export const SYNC_BYTES = SYNC.length;
const LEAD = 150;
/** 99:59:74, in sectors from 00:02:00. */
export const LAST_ADDRESS = 449_849;

const bcd = (byte: number) =>
  byte >> 4 > 9 || (byte & 15) > 9 ? -1 : (byte >> 4) * 10 + (byte & 15);

export const hasSync = (sector: Uint8Array): boolean => SYNC.every((byte, i) => sector[i] === byte);

/** The sector's address by its header; null where that is none. */
export function addressOf(sector: Uint8Array): number | null {
  const [minute, second, frame] = [bcd(sector[12]!), bcd(sector[13]!), bcd(sector[14]!)];
  return minute < 0 || second < 0 || second > 59 || frame < 0 || frame > 74
    ? null
    : (minute * 60 + second) * 75 + frame - LEAD;
}

interface SectorHeader {
  address: number;
  mode: 0 | 1 | 2;
  isScrambled: boolean;
}

function plainHeader(sector: Uint8Array, isScrambled: boolean): SectorHeader | null {
  const [address, mode] = [addressOf(sector), sector[15]!];
  return address !== null && mode <= 2 ? { address, mode: mode as 0 | 1 | 2, isScrambled } : null;
}

/**
 * The header of a raw sector that may be scrambled still: it makes sense only as what it is. Null
 * where the sector is cut, has no sync, or no header makes sense.
 */
export function headerOf(sector: Uint8Array): SectorHeader | null {
  if (sector.length < RAW_BYTES || !hasSync(sector)) return null;
  const plain = plainHeader(sector, false);
  if (plain) return plain;
  const turned = sector.slice();
  scramble(turned);
  return plainHeader(turned, true);
}

const toBcd = (value: number) => ((Math.floor(value / 10) % 10) << 4) | (value % 10);

export function setHeader(sector: Uint8Array, lba: number, mode: number): void {
  const frames = lba + LEAD;
  sector.set(
    [
      toBcd(Math.floor(frames / 4500)),
      toBcd(Math.floor(frames / 75) % 60),
      toBcd(frames % 75),
      mode,
    ],
    12,
  );
}

export const isZero = (sector: Uint8Array, from: number, to: number) => {
  for (let i = from; i < to; i++) if (sector[i] !== 0) return false;
  return true;
};
