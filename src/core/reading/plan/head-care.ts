/**
 * When a drive's head wants cleaning: by rule, after so many readings or a medium that sheds; and
 * by the pattern of
 * failure that a dirty head leaves, which follows the order of reading and not the disk.
 */
import type { ConditionMark } from '@/core/condition';
import { said, type Said } from '@/core/said';

/**
 * Readings after which a head is cleaned whatever it read: about twenty-five disks of 160 tracks.
 */
export const READINGS_BETWEEN_CLEANINGS = 4000;

/** Marks of media that leave something on the head. */
const LEAVES_DIRT: readonly ConditionMark[] = ['mould', 'shedding'];

export const leavesDirt = (marks: readonly ConditionMark[]) =>
  marks.some((mark) => LEAVES_DIRT.includes(mark));

interface HeadUse {
  readings: number;
  /** Of these, readings of media marked as shedding or mouldy. */
  shedding: number;
}

/**
 * Why the head is to be cleaned before the next medium, in a sentence; null where it need not be.
 */
export function cleaningDue({ readings, shedding }: HeadUse): Said | null {
  if (shedding > 0) return said('plan.aMediumThatSheds');
  return readings >= READINGS_BETWEEN_CLEANINGS
    ? said('plan.readingsSinceItWas', { readings })
    : null;
}

/** What one first reading of a track gave. */
export interface FirstReading {
  unsound: number;
  sectors: number;
}

/** First readings in a row that are looked at, and as many before them that must have gone well. */
const WINDOW = 8;
/**
 * Share of sectors that fail under a head that is going blind, and share that fails under a clean
 * one.
 */
const FAILING = 0.25;
const WELL = 0.05;

const failedShare = (tracks: readonly FirstReading[]) =>
  tracks.reduce((sum, { unsound }) => sum + unsound, 0) /
  Math.max(
    1,
    tracks.reduce((sum, { sectors }) => sum + sectors, 0),
  );

/**
 * Whether first readings, in the order taken, look as if the head had become dirty: the last ones
 * fail on nearly every
 * track, and others before them went well. Bad inner tracks look the same, so it is a suspicion:
 * reading a track again
 * that read well tells one from the other.
 */
export function detectDirtyHead(history: readonly FirstReading[]): boolean {
  const recorded = history.filter(({ sectors }) => sectors > 0);
  const last = recorded.slice(-WINDOW);
  const before = recorded.slice(0, -WINDOW);
  if (last.length < WINDOW || before.length < WINDOW) return false;
  const hurt = last.filter(({ unsound }) => unsound > 0).length;
  return (
    failedShare(last) >= FAILING &&
    hurt >= WINDOW - 1 &&
    failedShare(before.slice(0, WINDOW)) <= WELL
  );
}

/** Readings again, in a row, that made nothing better. */
const IN_VAIN = 6;

/**
 * Whether reading again what failed looks as if it failed for the head: `better` says of each such
 * reading, in order, whether it brought anything.
 */
export const confirmDirtyHead = (better: readonly boolean[]): boolean =>
  better.length >= IN_VAIN && better.slice(-IN_VAIN).every((each) => !each);

/**
 * Whether a track that read well before, and was now read once more, says that the head is dirty.
 */
export const confirmsDirt = ({ unsound, sectors }: FirstReading): boolean =>
  sectors === 0 || unsound / sectors > WELL;
