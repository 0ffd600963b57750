/**
 * What reading a track again would bring, by what the same way brought on it and on tracks near it:
 * the share of its sectors in doubt that it is expected to give, as the mean of a beta distribution
 * (the prior's sectors and those that were tried, weighted by how far off their track lies).
 */
import type { Approach } from './approach';

/** What one reading of a track that was read before brought. */
export interface Attempt {
  approach: Approach;
  turns: number;
  /** Sectors that were in doubt before it, and those of them that are sound since. */
  of: number;
  gained: number;
}

/** One way to read a track again. */
export interface Way {
  approach: Approach;
  turns: number;
  /** Share of the sectors in doubt that it gives, as long as nothing is known. */
  usually: number;
}

/** A track with what reading it again brought. */
export interface Tried {
  cylinder: number;
  head: number;
  attempts?: readonly Attempt[];
}

/** What is known beforehand weighs as much as this many sectors. */
const PRIOR_SECTORS = 6;
/** A sector of the track itself against one of a neighbour. */
const OWN = 4;
/** Cylinders by which a neighbour's weight falls to 1/e, and what the other side's track weighs. */
const NEAR = 6;
const OTHER_SIDE = 0.5;
const NEGLIGIBLE = 0.02;
/** Turns that pass while the head goes away and comes back, or settles. */
const TURNS_AWAY = 1;
const TURNS_ASIDE = 0.5;

/** Turns of the disk that a reading takes, the way there included. */
export const costOf = ({ approach, turns }: Pick<Way, 'approach' | 'turns'>): number =>
  turns + (approach === 'from-inside' || approach === 'from-outside' ? TURNS_AWAY : TURNS_ASIDE);

/** How much what happened on one track says of another, 0 to 1; of itself OWN. */
function weightOf(track: Tried, other: Tried): number {
  const apart = Math.abs(track.cylinder - other.cylinder);
  if (track.head === other.head) return apart === 0 ? OWN : Math.exp(-apart / NEAR);
  return OTHER_SIDE * Math.exp(-apart / NEAR);
}

/** Another number of turns is another way; what a head did dirty was forgotten when it was cleaned. */
const isSameWay = (attempt: Attempt, way: Way) =>
  attempt.approach === way.approach && attempt.turns === way.turns;

export interface Expected {
  way: Way;
  /** Share of the sectors in doubt, 0 to 1. */
  share: number;
  /** Sectors of neighbours that it gave, of those that it was tried on. */
  nearGained: number;
  nearOf: number;
}

/** What each way is expected to give on a track. */
export function expectedGains(
  track: Tried,
  all: readonly Tried[],
  ways: readonly Way[],
): Expected[] {
  return ways.map((way) => {
    let gained = way.usually * PRIOR_SECTORS;
    let of = PRIOR_SECTORS;
    let nearGained = 0;
    let nearOf = 0;
    for (const other of all) {
      const weight = weightOf(track, other);
      if (weight < NEGLIGIBLE) continue;
      for (const attempt of other.attempts ?? []) {
        if (!isSameWay(attempt, way)) continue;
        gained += weight * attempt.gained;
        of += weight * attempt.of;
        if (weight === OWN) continue;
        nearGained += attempt.gained;
        nearOf += attempt.of;
      }
    }
    return { way, share: gained / of, nearGained, nearOf };
  });
}

/** The way that gives most for the time it takes. */
export function bestWay(track: Tried, all: readonly Tried[], ways: readonly Way[]): Expected {
  const worth = ({ share, way }: Expected) => share / costOf(way);
  return expectedGains(track, all, ways).reduce((best, each) =>
    worth(each) > worth(best) ? each : best,
  );
}
