/**
 * Which drive to read a medium in again, by what drives gave of sectors that another, or the same
 * one once more, had left in doubt: the mean of a beta distribution, as for the ways of reading a
 * track again (`gain.ts`).
 */

/** What reading a medium again in a drive brought. */
export interface DriveAttempt {
  station: number;
  /** It had been read in the same drive before. */
  isSame: boolean;
  /** Sectors that were in doubt before, and those of them that it gave. */
  of: number;
  gained: number;
}

interface Drive {
  station: number;
  rpm: number;
}

export interface ExpectedOfDrive {
  station: number;
  isSame: boolean;
  /** It turns slower: its transitions stand further apart, and noise moves them less. */
  isSlower: boolean;
  /** Share of the sectors in doubt that it should give, 0 to 1. */
  share: number;
  /** Of what it is expected: sectors that it was tried on so, and what it gave of them. */
  of: number;
  gained: number;
}

/** What is known beforehand weighs as much as this many sectors. */
const PRIOR_SECTORS = 12;
/** Shares as long as nothing is known: another head stands otherwise, a slower one hears better. */
const USUALLY = { same: 0.1, other: 0.3, slower: 0.36 };
/** One medium of thousands of sectors is one medium still. */
const MOST_OF_ONE = 60;

/** What each drive is expected to give, the likeliest first. */
export function expectedOfDrives(
  readIn: Drive,
  drives: readonly Drive[],
  attempts: readonly DriveAttempt[],
): ExpectedOfDrive[] {
  return drives
    .map(({ station, rpm }) => {
      const isSame = station === readIn.station;
      const isSlower = rpm < readIn.rpm;
      const usually = isSame ? USUALLY.same : isSlower ? USUALLY.slower : USUALLY.other;
      const own = attempts.filter((each) => each.station === station && each.isSame === isSame);
      let of = 0;
      let gained = 0;
      for (const each of own) {
        const weight = Math.min(1, MOST_OF_ONE / Math.max(1, each.of));
        of += weight * each.of;
        gained += weight * each.gained;
      }
      const share = (usually * PRIOR_SECTORS + gained) / (PRIOR_SECTORS + of);
      return { station, isSame, isSlower, share, of: sum(own, 'of'), gained: sum(own, 'gained') };
    })
    .sort((a, b) => b.share - a.share);
}

const sum = (attempts: readonly DriveAttempt[], key: 'of' | 'gained') =>
  attempts.reduce((total, each) => total + each[key], 0);
