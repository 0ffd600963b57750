/**
 * Which transitions of all turns are one: the middle of such a group says to which stretch of a
 * sequence they are counted, so that the noise of one turn breaks no stretch.
 */
import { alignTurn } from './align-turn';
import type { CountedTurn } from './cell-metric';
import { median } from '@/core/bits/median';
import type { TurnView } from './turn-views';

/**
 * Turns whose transitions are counted by the middle of their group, where half the turns have it;
 * also those that the sequence left out and half the turns have.
 */
export function counted(
  views: readonly TurnView[],
  expected: Float64Array,
  matches: readonly Int32Array[],
  sigma: number,
): CountedTurn[] {
  const extras = commonExtras(views, expected, matches);
  const all = extras.length > 0 ? Float64Array.from([...expected, ...extras]).sort() : expected;
  const groups =
    extras.length > 0 ? views.map(({ places }) => alignTurn(places, all, sigma)) : matches;
  const turns = views.map((view) => ({ ...view, counted: view.places.slice() }));
  const group = new Float64Array(views.length);
  for (let j = 0; j < all.length; j++) {
    let having = 0;
    for (const [turn, { places }] of views.entries())
      if (groups[turn]![j]! >= 0) group[having++] = places[groups[turn]![j]!]!;
    if (having < 2 || 2 * having < views.length) continue;
    const sorted = group.subarray(0, having).sort();
    const half = having >> 1;
    const place = having % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
    for (const [turn, own] of turns.entries())
      if (groups[turn]![j]! >= 0) own.counted[groups[turn]![j]!] = place;
  }
  for (const own of turns) putInOrder(own.counted);
  return turns;
}

/** Places between the expected ones at which at least half the turns have a transition too many. */
function commonExtras(
  views: readonly TurnView[],
  expected: Float64Array,
  matches: readonly Int32Array[],
): number[] {
  const found = new Map<number, number[]>();
  for (const [turn, { places }] of views.entries()) {
    const used = new Uint8Array(places.length);
    for (const i of matches[turn]!) if (i >= 0) used[i] = 1;
    let gap = 0;
    let last = -1;
    for (let i = 0; i < places.length; i++) {
      while (gap < expected.length && expected[gap]! < places[i]!) gap++;
      // One a turn in each gap, and none before the first or behind the last.
      if (used[i] || gap === last || gap === 0 || gap === expected.length) continue;
      last = gap;
      const own = found.get(gap);
      if (own) own.push(places[i]!);
      else found.set(gap, [places[i]!]);
    }
  }
  return [...found.values()]
    .filter((own) => own.length >= 2 && 2 * own.length >= views.length)
    .map(median);
}

/** Sorts what is nearly sorted: by insertion. */
function putInOrder(places: Float64Array): void {
  for (let i = 1; i < places.length; i++) {
    const place = places[i]!;
    let at = i;
    for (; at > 0 && places[at - 1]! > place; at--) places[at] = places[at - 1]!;
    places[at] = place;
  }
}
