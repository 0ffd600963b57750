/**
 * One raw sector of 2,352 bytes (ECMA-130, clause 14): what kind it is, whether it is right, and
 * what can be put right. Nothing is called repaired that does not pass its EDC.
 */
import { mendParity, parityHolds, setParity } from './ecc';
import { edc, edcAt, setEdc } from './edc';
import { checkMode2, type Mode2Form } from './mode2-sector';
import { RAW_BYTES } from './scramble';
import { addressOf, hasSync, isZero, setHeader, SYNC } from './sector-header';

export { RAW_BYTES };

export type SectorVerdict = 'good' | 'repairable' | 'unrepairable';
export type SectorForm = 'mode0' | 'mode1' | Mode2Form;

export interface RawSector {
  form: SectorForm;
  verdict: SectorVerdict;
  /** The sector as it should be; the same bytes where it was good or could not be mended. */
  bytes: Uint8Array;
  /** Its own address, in sectors from 00:02:00; null where the header is no address. */
  address: number | null;
}

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

/**
 * Looks at a sector, descrambled already. `lba` is its place, `mode` what its track says (null: by
 * its header), `flags` 2,352 bytes, not 0 where the drive distrusts the sector's. The sector itself
 * is not changed.
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
  const isHere = sector[15] === 2 && address === lba && hasSync(sector);
  const result = checkMode2(sector, isHere, flags);
  // The header is protected by nothing; its place says what it should be.
  if (result.verdict === 'unrepairable' || (sector[15] === 2 && address !== null))
    return { ...result, address };
  const mended = result.bytes.slice();
  setHeader(mended, lba, 2);
  return { form: result.form, verdict: 'repairable', bytes: mended, address: lba };
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
