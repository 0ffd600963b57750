/**
 * One sector by several readings of a disc, or by several damaged copies of it: the first that is
 * right, or can be put right, by itself; else all of them put together before P and Q, byte by byte.
 * Where they contradict each other the byte is an erasure, of which the code mends twice as many as
 * of errors (ECMA-130, annex A). Nothing is called mended that does not pass its EDC.
 */
import { edcAt } from './edc';
import { RAW_BYTES, checkSector, type RawSector } from './raw-sector';

export interface SectorReading {
  /** 2,352 bytes, descrambled. */
  bytes: Uint8Array;
  /** 2,352 bytes, not 0 where the drive distrusts the sector's; null where it told nothing. */
  flags: Uint8Array | null;
}

interface Vote {
  /** What most of those that are trusted have; of a tie, the first. */
  bytes: Uint8Array;
  /** Not 0 where trusted readings contradict each other, or none is trusted. */
  contradicted: Uint8Array;
  /** Not 0 where no value has more than half of the trusted readings. */
  undecided: Uint8Array;
}

/** What readings of one sector have, byte by byte. */
export function voteOn(readings: readonly SectorReading[]): Vote {
  const vote: Vote = {
    bytes: new Uint8Array(RAW_BYTES),
    contradicted: new Uint8Array(RAW_BYTES),
    undecided: new Uint8Array(RAW_BYTES),
  };
  for (let at = 0; at < RAW_BYTES; at++) {
    const trusted = readings.filter(({ flags }) => !flags?.[at]);
    const counts = new Map<number, number>();
    for (const { bytes } of trusted.length > 0 ? trusted : readings)
      counts.set(bytes[at]!, (counts.get(bytes[at]!) ?? 0) + 1);
    let [value, most] = [0, 0];
    for (const [own, count] of counts) if (count > most) [value, most] = [own, count];
    vote.bytes[at] = value;
    vote.contradicted[at] = Number(trusted.length === 0 || counts.size > 1);
    vote.undecided[at] = Number(trusted.length === 0 || 2 * most <= trusted.length);
  }
  return vote;
}

/** Where the EDC of form 2 stands, 0 where none was written. */
const FORM_2_EDC = 2348;

/**
 * Whether the sector's EDC says that it is right. Form 2 need not have one, and a body of zeros
 * passes every check: a vote on such is no proof.
 */
function isProved({ form, bytes }: RawSector): boolean {
  if (form === 'mode1') return true;
  const hasBody = bytes.subarray(16).some((byte) => byte !== 0);
  return (
    hasBody &&
    (form === 'mode2-form1' || (form === 'mode2-form2' && edcAt(bytes, FORM_2_EDC) !== 0))
  );
}

/**
 * The sector in place `lba`. `readings` are at least one, that of the disc in question first: a
 * whole sector of another reading counts only if its header says that it is this one. `mode` is
 * what its track says (null: by its header).
 */
export function checkReadings(
  readings: readonly SectorReading[],
  lba: number,
  mode: 1 | 2 | null,
): RawSector {
  const alone = readings.map(({ bytes, flags }) => checkSector(bytes, lba, mode, flags));
  const [own] = alone as [RawSector, ...RawSector[]];
  if (readings.length === 1 || own.verdict !== 'unrepairable') return own;
  const isHere = ({ verdict, address }: RawSector) => verdict !== 'unrepairable' && address === lba;
  const whole = alone.find(isHere);
  if (whole) return { ...whole, verdict: 'repairable' };
  const { bytes, contradicted, undecided } = voteOn(readings);
  const tried: SectorReading[] = [
    { bytes, flags: contradicted },
    { bytes, flags: undecided },
    { bytes, flags: null },
    ...readings.map((reading) => ({ bytes: reading.bytes, flags: contradicted })),
  ];
  for (const each of tried) {
    const together = checkSector(each.bytes, lba, mode, each.flags);
    if (isHere(together) && isProved(together)) return { ...together, verdict: 'repairable' };
  }
  return own;
}
