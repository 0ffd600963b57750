/**
 * One raw sector of 2,352 bytes (ECMA-130, clause 14): what kind it is, whether it is right, and
 * what can be put right.
 * Nothing is called repaired that does not pass its EDC.
 */
import { mendParity, parityHolds, setParity } from './ecc';
import { edc, edcAt, setEdc } from './edc';
import { RAW_BYTES } from './scramble';

export { RAW_BYTES };

export type SectorVerdict = 'good' | 'repairable' | 'unrepairable';
export type SectorForm = 'mode0' | 'mode1' | 'mode2' | 'mode2-form1' | 'mode2-form2';

export interface RawSector {
  form: SectorForm;
  verdict: SectorVerdict;
  /** The sector as it should be; the same bytes where it was good or could not be mended. */
  bytes: Uint8Array;
  /** Its own address, in sectors from 00:02:00; null where the header is no address. */
  address: number | null;
}

const SYNC = Uint8Array.of(0, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255, 0);
const FORM_2 = 0x20;
const LEAD = 150;

/** User bytes of a sector as volumes see them: of mode 1, and of mode 2 form 1. */
export const USER_SECTOR_BYTES = 2048;
/** User bytes of each form, from where and to where. */
export const USER_BYTES: Readonly<Record<SectorForm, readonly [from: number, to: number]>> =
  Object.freeze({
    mode0: [16, 2352],
    mode1: [16, 2064],
    mode2: [16, 2352],
    'mode2-form1': [24, 2072],
    'mode2-form2': [24, 2348],
  });

const bcd = (byte: number) =>
  byte >> 4 > 9 || (byte & 15) > 9 ? -1 : (byte >> 4) * 10 + (byte & 15);

export const hasSync = (sector: Uint8Array): boolean => SYNC.every((byte, i) => sector[i] === byte);

/** The sector's address by its header; null where that is none. */
function addressOf(sector: Uint8Array): number | null {
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

function setHeader(sector: Uint8Array, lba: number, mode: number): void {
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

const isZero = (sector: Uint8Array, from: number, to: number) => {
  for (let i = from; i < to; i++) if (sector[i] !== 0) return false;
  return true;
};

/** With the header taken as zero, as mode 2 has it for the parity. */
function withoutHeader<T>(sector: Uint8Array, work: (sector: Uint8Array) => T): T {
  const header = sector.slice(12, 16);
  sector.fill(0, 12, 16);
  const result = work(sector);
  sector.set(header, 12);
  return result;
}

function mode1(
  sector: Uint8Array,
  flags: Uint8Array | null,
): { verdict: SectorVerdict; bytes: Uint8Array } {
  const right = (bytes: Uint8Array) => edc(bytes, 0, 2064) === edcAt(bytes, 2064);
  const synced = hasSync(sector);
  if (synced && right(sector) && isZero(sector, 2068, 2076) && parityHolds(sector))
    return { verdict: 'good', bytes: sector };
  const mended = sector.slice();
  // The EDC runs over the sync, which is always the same.
  mended.set(SYNC);
  if (right(mended)) {
    // Damage to the parity alone must not touch what the EDC has proved.
    mended.fill(0, 2068, 2076);
    setParity(mended);
    return { verdict: 'repairable', bytes: mended };
  }
  // Eight bytes are zeros on every disc.
  mended.fill(0, 2068, 2076);
  mendParity(mended, flags);
  if (right(mended)) {
    mended.fill(0, 2068, 2076);
    setParity(mended);
    return { verdict: 'repairable', bytes: mended };
  }
  return { verdict: 'unrepairable', bytes: sector };
}

function form1(
  sector: Uint8Array,
  flags: Uint8Array | null,
): { verdict: SectorVerdict; bytes: Uint8Array } {
  const right = (bytes: Uint8Array) => edc(bytes, 16, 2072) === edcAt(bytes, 2072);
  const synced = hasSync(sector);
  if (synced && right(sector) && withoutHeader(sector, parityHolds))
    return { verdict: 'good', bytes: sector };
  const mended = sector.slice();
  mended.set(SYNC);
  if (!right(mended)) {
    withoutHeader(mended, (bytes) => mendParity(bytes, flags));
    if (!right(mended)) return { verdict: 'unrepairable', bytes: sector };
  }
  withoutHeader(mended, setParity);
  return { verdict: 'repairable', bytes: mended };
}

function form2(sector: Uint8Array): { verdict: SectorVerdict; bytes: Uint8Array } {
  const recorded = edcAt(sector, 2348);
  if (recorded !== 0 && edc(sector, 16, 2348) !== recorded)
    return { verdict: 'unrepairable', bytes: sector };
  if (hasSync(sector)) return { verdict: 'good', bytes: sector };
  // Without an EDC nothing says that the rest came through better than the sync did.
  if (recorded === 0) return { verdict: 'unrepairable', bytes: sector };
  const mended = sector.slice();
  mended.set(SYNC);
  return { verdict: 'repairable', bytes: mended };
}

/**
 * Which form a mode 2 sector is: by its subheader, which stands twice, and where the two differ by
 * what passes.
 */
function formOf(sector: Uint8Array): 1 | 2 | null {
  if (!isZero(sector, 16, 24) && (sector[18]! & FORM_2) === (sector[22]! & FORM_2))
    return sector[18]! & FORM_2 ? 2 : 1;
  if (edc(sector, 16, 2072) === edcAt(sector, 2072)) return 1;
  const recorded = edcAt(sector, 2348);
  if (recorded !== 0 && edc(sector, 16, 2348) === recorded) return 2;
  return isZero(sector, 16, 24) ? 1 : null;
}

/**
 * Looks at a sector, descrambled already. `lba` is its place, `mode` what its track says (null:
 * by its header), `flags`
 * 2,352 bytes, not 0 where the drive distrusts the sector's. The sector itself is not changed. In
 * one piece: the order in which the standard's modes and checks exclude each other.
 */
export function checkSector(
  sector: Uint8Array,
  lba: number,
  mode: 1 | 2 | null,
  flags: Uint8Array | null = null,
): RawSector {
  const kind = mode ?? (sector[15] === 2 ? 2 : sector[15] === 0 ? 0 : 1);
  const address = addressOf(sector);
  if (kind === 0)
    return {
      form: 'mode0',
      verdict: hasSync(sector) && isZero(sector, 16, RAW_BYTES) ? 'good' : 'unrepairable',
      bytes: sector,
      address,
    };
  if (kind === 1) {
    const result = mode1(sector, flags);
    return { form: 'mode1', ...result, address: addressOf(result.bytes) };
  }
  // A body of zeros passes every check of its own: only a header that is right for its place says
  // that it was read.
  const told = sector[15] === 2 && address === lba && hasSync(sector);
  if (isZero(sector, 16, RAW_BYTES))
    return { form: 'mode2-form1', verdict: told ? 'good' : 'unrepairable', bytes: sector, address };
  const form = formOf(sector);
  if (form === null)
    return { form: 'mode2', verdict: told ? 'good' : 'unrepairable', bytes: sector, address };
  const result = form === 1 ? form1(sector, flags) : form2(sector);
  // The header is protected by nothing; its place says what it should be.
  if (result.verdict !== 'unrepairable' && (sector[15] !== 2 || address === null)) {
    const mended = result.bytes.slice();
    setHeader(mended, lba, 2);
    return {
      form: form === 1 ? 'mode2-form1' : 'mode2-form2',
      verdict: 'repairable',
      bytes: mended,
      address: lba,
    };
  }
  return { form: form === 1 ? 'mode2-form1' : 'mode2-form2', ...result, address };
}

/** A mode 1 sector of these 2,048 bytes, with everything that belongs to it. */
export function makeMode1(user: Uint8Array, lba: number): Uint8Array {
  const sector = new Uint8Array(RAW_BYTES);
  sector.set(SYNC);
  setHeader(sector, lba, 1);
  sector.set(user, 16);
  setEdc(sector, 2064, edc(sector, 0, 2064));
  setParity(sector);
  return sector;
}
