/** The sync and the header of a raw sector (ECMA-130, clause 14.1 and 14.2). */

export const SYNC = Uint8Array.of(0, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 0);
export const SYNC_BYTES = SYNC.length;
const LEAD = 150;

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

/**
 * A header of an address and one of the three modes: by it scrambled images are told from others.
 */
export const hasHeader = (sector: Uint8Array): boolean =>
  addressOf(sector) !== null && sector[15]! <= 2;

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
