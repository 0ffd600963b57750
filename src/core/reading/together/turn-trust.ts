/**
 * How far each turn is trusted where: what it has beside the sequence that is likeliest, as chances
 * of losses, as stretches of garbage, and as places where the medium itself is soft.
 */
import { STEP, garbageOf, type TurnTally } from './garbage-chain';
import { BLOCK, LEAST_GARBAGE, START_EXTRA, START_MISSED } from './track-model';
import type { TurnView } from './turn-views';

const MOST_GARBAGE = 0.9;
/** Blocks better than this count for the chances of losses. */
const GOOD_BLOCK = 0.2;
/** Chances of losses are held within this. */
const LEAST_CHANCE = 1e-5;
const MOST_CHANCE = 0.05;
/** Turns without which no soft spot can be told. */
const LEAST_TO_COMPARE = 3;

/** Deviations of a mean beyond which a transition lies elsewhere, and never less than this. */
const MOVED_BY = 5;
const LEAST_MOVED = 0.3;
/** A track without any has them with this weight: half a case in a thousand transitions. */
const CASES_BEFORE = 0.5;
const OF_BEFORE = 1000;

/** Which of a turn's transitions is each of the expected ones, and how far off it may lie. */
export interface Matching {
  expected: Float64Array;
  /** By turn, by expected transition; −1 where there is none. */
  matches: readonly Int32Array[];
  /** By expected transition, in cells. */
  reach: Float64Array;
}

export interface Trust {
  missed: number;
  extra: number;
  garbage: Float32Array[];
  /** By block: whether the medium is soft there. */
  soft: Uint8Array;
  /** By block: whether so many turns are bad there that the sequence may have followed them. */
  disputed: Uint8Array;
}

export function trustOf(views: readonly TurnView[], matching: Matching): Trust {
  const { expected } = matching;
  const end = Math.max(1, expected[expected.length - 1] ?? 1);
  const tallies = views.map((view, turn) => tallyOf(view, matching, turn));
  const bad = tallies.map(badShares);
  let lost = 0;
  let added = 0;
  let of = 0;
  let cells = 0;
  for (const [turn, { matched, missing, extra }] of tallies.entries()) {
    const { from, to } = views[turn]!;
    for (let step = 0; step < matched.length; step++) {
      const isGood = bad[turn]![Math.floor((step * STEP) / BLOCK)]! <= GOOD_BLOCK;
      if (!isGood || step * STEP < from || (step + 1) * STEP > Math.min(to, end)) continue;
      lost += missing[step]!;
      added += extra[step]!;
      of += matched[step]! + missing[step]!;
      cells += STEP;
    }
  }
  const missed = clamp((lost + 1) / (of + 500), LEAST_CHANCE, MOST_CHANCE);
  const extra = clamp((added + 1) / (cells + 1000), LEAST_CHANCE, MOST_CHANCE);
  // A turn is not called garbage for losses that are only rarer than usual on this track.
  const good = { missed: Math.max(missed, START_MISSED), extra: Math.max(extra, START_EXTRA) };
  const garbage = tallies.map((tally) =>
    garbageOf(tally, good).map((chance) => clamp(chance, LEAST_GARBAGE, MOST_GARBAGE)),
  );
  const soft = blocksWhere(views, garbage, isSoft);
  const disputed = blocksWhere(views, garbage, isDisputed);
  for (const steps of garbage)
    for (let step = 0; step < steps.length; step++)
      if (soft[Math.floor((step * STEP) / BLOCK)]) steps[step] = LEAST_GARBAGE;
  return { missed, extra, garbage, soft, disputed };
}

/** By step: which of the expected transitions a turn has, and which it has beside them. */
function tallyOf(
  { places, from, to }: TurnView,
  { expected, matches, reach }: Matching,
  turn: number,
): TurnTally {
  const end = Math.max(1, expected[expected.length - 1] ?? 1);
  // Whole blocks, and one more.
  const steps = (Math.ceil(end / BLOCK) + 1) * (BLOCK / STEP);
  const stepOf = (place: number) => Math.max(0, Math.min(steps - 1, Math.floor(place / STEP)));
  const matched = new Float32Array(steps);
  const missing = new Float32Array(steps);
  const extra = new Float32Array(steps);
  const used = new Uint8Array(places.length);
  for (let j = 0; j < expected.length; j++) {
    const i = matches[turn]![j]!;
    const place = expected[j]!;
    const isMatch = i >= 0 && Math.abs(places[i]! - place) < reach[j]!;
    if (i >= 0) used[i] = 1;
    if (isMatch) matched[stepOf(place)]!++;
    else if (place >= from && place <= to) missing[stepOf(place)]!++;
  }
  for (let i = 0; i < places.length; i++)
    if (!used[i] && places[i]! >= 0 && places[i]! < end) extra[stepOf(places[i]!)]!++;
  return { matched, missing, extra };
}

/** By block: share of transitions that are missing or too many. */
function badShares({ matched, missing, extra }: TurnTally): Float32Array {
  const per = BLOCK / STEP;
  const shares = Float32Array.from({ length: matched.length / per }, (_, block) => {
    let wrong = 0;
    let all = 0;
    for (let step = block * per; step < (block + 1) * per; step++) {
      wrong += missing[step]! + extra[step]!;
      all += matched[step]! + missing[step]!;
    }
    return wrong / Math.max(4, all);
  });
  return smoothed(shares);
}

/**
 * Most turns seem garbage at once. Spots that are random in each turn lie in other places in each;
 * where they all seem bad, the medium is soft, the sequence followed was a wrong one, and the turns
 * are not to be given up for it.
 */
const isSoft = (bad: number, seeing: number): boolean =>
  seeing >= LEAST_TO_COMPARE && 2 * bad > seeing;

const isDisputed = (bad: number, seeing: number): boolean => 3 * bad >= seeing && bad > 0;

/** Blocks in which so many turns of those that saw them are garbage, and their neighbours. */
function blocksWhere(
  views: readonly TurnView[],
  garbage: readonly Float32Array[],
  holds: (bad: number, seeing: number) => boolean,
): Uint8Array {
  const per = BLOCK / STEP;
  const found = new Uint8Array(Math.ceil((garbage[0]?.length ?? 0) / per));
  for (let block = 0; block < found.length; block++) {
    let seeing = 0;
    let bad = 0;
    for (const [turn, steps] of garbage.entries()) {
      const { from, to } = views[turn]!;
      if (block * BLOCK < from || (block + 1) * BLOCK > to) continue;
      seeing++;
      if (steps.subarray(block * per, (block + 1) * per).some((chance) => chance > 0.5)) bad++;
    }
    if (holds(bad, seeing)) found[block] = 1;
  }
  return found.map((own, block) => own | (found[block - 1] ?? 0) | (found[block + 1] ?? 0));
}

/** Each with a quarter of its neighbours on both sides. */
function smoothed(values: Float32Array): Float32Array {
  return values.map(
    (value, i) => 0.5 * value + 0.25 * ((values[i - 1] ?? value) + (values[i + 1] ?? value)),
  );
}

const clamp = (value: number, least: number, most: number) =>
  Math.max(least, Math.min(most, value));

/**
 * Chances of what is the same in all turns, by what shows of it: transitions of the sequence that
 * no turn has, and such as all turns have in another place.
 */
export function faultsOfMedium(
  views: readonly TurnView[],
  { expected, matches }: Matching,
  noise: (place: number) => number,
): { lost: number; moved: number } {
  let lost = 0;
  let moved = 0;
  let of = 0;
  for (let j = 0; j < expected.length; j++) {
    const place = expected[j]!;
    let having = 0;
    let seeing = 0;
    let sum = 0;
    for (const [turn, { places, from, to }] of views.entries()) {
      if (place < from || place > to) continue;
      seeing++;
      const i = matches[turn]![j]!;
      if (i < 0) continue;
      having++;
      sum += places[i]! - place;
    }
    if (seeing === 0) continue;
    of++;
    if (having === 0) lost++;
    const bound = Math.max(LEAST_MOVED, (MOVED_BY * noise(place)) / Math.sqrt(having));
    if (2 * having > seeing && Math.abs(sum / having) > bound) moved++;
  }
  const chance = (cases: number) => (cases + CASES_BEFORE) / (of + OF_BEFORE);
  return { lost: clamp(chance(lost), 2e-5, 1e-3), moved: clamp(chance(moved), 1e-5, 5e-3) };
}
