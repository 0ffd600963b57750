/**
 * All turns of all readings of a track on one grid of cells. Each reading has its own clock; its
 * turns are laid over the first by the offset at which most transitions fall together, looked at
 * again piece by piece, so that a slip behind a hurt spot does not move the rest.
 */
import { firstAtOrAfter } from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';

/** One turn as it lies on the track's grid; places in cells from the first turn's index pulse. */
export interface TurnView {
  reading: number;
  turn: number;
  /** Ascending, from before the pulse to some way behind the next. */
  places: Float64Array;
  /** The stretch that this turn has seen. */
  from: number;
  to: number;
}

export interface ClockedReading {
  reading: TrackReading;
  times: Float64Array;
  count: number;
  /** Places of its transitions on its own grid. */
  places: Float64Array;
}

/** Cells before the pulse, and behind the next, that a turn is shown: a sector may lie across. */
const BEFORE = 64;
const BEHIND = 17_000;
/** Offsets between turns are looked for within so many cells. */
const LAG = 300;
/** Transitions of the first turn that an offset is found by. */
const SAMPLES = 3000;
/** Two transitions are the same within this, in cells. */
const SAME = 0.35;
const PIECE = 512;
const LEAST_IN_PIECE = 24;
/** A slip is believed where it matches this many times as many transitions. */
const CLEARLY = 1.35;
/** Slips that are tried where a piece does not match, and behind a stretch that no clock followed. */
const SMALL_SLIPS = [-2, -1, 1, 2];
const LARGEST_SLIP = 160;
/**
 * Transitions, in order, by which a large slip is found: more where fewer fit in several places. And
 * the share that it must match, and how many times as many as any other.
 */
const LOOKED_BY = [240, 960];
const MOST = 0.6;
const ALONE = 1.4;

/** The grid place of a moment of a reading. */
export function placeOf({ times, count, places }: ClockedReading, tick: number): number {
  const i = Math.max(1, Math.min(count - 1, firstAtOrAfter(times, count, tick)));
  const span = times[i]! - times[i - 1]!;
  const slope = span > 0 ? (places[i]! - places[i - 1]!) / span : 0;
  return places[i]! + (tick - times[i]!) * slope;
}

/** Where a turn begins on its reading's own grid, in whole cells: the pulse falls anywhere in one. */
export const startOfTurn = (clocked: ClockedReading, turn: number): number =>
  Math.round(placeOf(clocked, clocked.reading.index[turn]!));

/** The moment of a grid place in a reading. */
export function tickAt({ times, count, places }: ClockedReading, place: number): number {
  const i = Math.max(1, Math.min(count - 1, firstAtOrAfter(places, count, place)));
  const span = places[i]! - places[i - 1]!;
  const slope = span > 0 ? (times[i]! - times[i - 1]!) / span : 0;
  return times[i]! + (place - places[i]!) * slope;
}

/** The offset at which most of `other` falls on `first`, in whole cells. */
export function lagBetween(first: Float64Array, other: Float64Array): number {
  const every = Math.max(1, Math.floor(first.length / SAMPLES));
  return mostOf(lagCounts(first, other, { every })) - LAG;
}

interface LagLooked {
  every?: number;
  /** The offset that it is looked for about, and how far from it. */
  about?: number;
  within?: number;
}

/** How many transitions fall together at each offset within reach, the one furthest below first. */
function lagCounts(
  first: Float64Array,
  other: Float64Array,
  { every = 1, about = 0, within = LAG }: LagLooked,
): Int32Array {
  const counts = new Int32Array(2 * within + 1);
  for (let i = 0; i < first.length; i += every) {
    const place = Math.round(first[i]! + about);
    let at = firstAtOrAfter(other, other.length, place - within);
    for (; at < other.length; at++) {
      const apart = Math.round(other[at]!) - place;
      if (apart > within) break;
      if (apart >= -within) counts[apart + within]!++;
    }
  }
  return counts;
}

function mostOf(counts: Int32Array): number {
  let best = counts.length >> 1;
  for (let lag = 0; lag < counts.length; lag++) if (counts[lag]! > counts[best]!) best = lag;
  return best;
}

/** The offset, from `about`, that fits clearly better than any that is not beside it; else null. */
function onlyLag(
  first: Float64Array,
  other: Float64Array,
  looked: { about: number; within: number },
): number | null {
  const counts = lagCounts(first, other, looked);
  const best = mostOf(counts);
  const isAlone = counts.every(
    (count, lag) => Math.abs(lag - best) <= 2 || ALONE * count <= counts[best]!,
  );
  return isAlone ? best - looked.within : null;
}

/**
 * Slips that a piece which does not match may have: small ones, and what is found further off, from
 * where the piece was looked for and from where a turn usually lies. Where the other turn begins or
 * ends within reach nothing is: a gap is alike every few cells, and one that the turn has not seen
 * would be found in what it has.
 */
function slipsFrom(first: Float64Array, other: Float64Array, from: number, offset: number) {
  const begin = firstAtOrAfter(first, first.length, from);
  const found = (about: number, within: number): number[] => {
    if (from + about - within < other[0]!) return [];
    if (from + PIECE + about + within > other[other.length - 1]!) return [];
    for (const many of LOOKED_BY) {
      const ahead = first.subarray(begin, begin + many);
      const lag = onlyLag(ahead, other, { about, within });
      if (lag !== null) return [about + lag - offset];
    }
    return [];
  };
  return [...SMALL_SLIPS, ...found(offset, LARGEST_SLIP), ...found(0, LAG)];
}

/**
 * Of the transitions of `first` between two places: how many there are, how many have one of `other`
 * near them, moved by `offset`, and how far those lie apart in the middle.
 */
class Matches {
  of = 0;
  count = 0;
  private readonly apart: Float64Array;

  constructor(first: Float64Array, other: Float64Array, from: number, to: number, offset: number) {
    const begin = firstAtOrAfter(first, first.length, from);
    const end = firstAtOrAfter(first, first.length, to);
    this.of = end - begin;
    this.apart = new Float64Array(this.of);
    let at = firstAtOrAfter(other, other.length, from + offset - 1);
    for (let i = begin; i < end; i++) {
      const place = first[i]! + offset;
      while (
        at + 1 < other.length &&
        Math.abs(other[at + 1]! - place) <= Math.abs(other[at]! - place)
      )
        at++;
      const off = at < other.length ? other[at]! - place : SAME;
      if (Math.abs(off) < SAME) this.apart[this.count++] = off;
    }
  }

  get median(): number {
    return this.apart.subarray(0, this.count).sort()[this.count >> 1] ?? 0;
  }
}

interface Piece {
  from: number;
  to: number;
  offset: number;
}

/** The slip by which a piece matches clearly better than without one; none where none does. */
function bestSlip(
  first: Float64Array,
  other: Float64Array,
  { from, to, offset }: Piece,
): { slip: number; found: Matches } {
  const here = new Matches(first, other, from, to, offset);
  let best = { slip: 0, found: here };
  if (here.of < LEAST_IN_PIECE || CLEARLY * here.count >= here.of) return best;
  for (const slip of slipsFrom(first, other, from, offset)) {
    const found = new Matches(first, other, from, to, offset + slip);
    const clearly = CLEARLY * here.count + 4;
    const enough = SMALL_SLIPS.includes(slip) ? clearly : Math.max(clearly, MOST * here.of);
    if (found.count > Math.max(best.found.count, enough)) best = { slip, found };
  }
  return best;
}

/**
 * Lays a turn over the first, piece by piece, also where a clock lost count of some ten cells, as
 * where a spindle faltered.
 */
export function laidOver(first: Float64Array, other: Float64Array): Float64Array {
  const lag = lagBetween(first, other);
  const moved = new Float64Array(other.length);
  const end = Math.max(first[first.length - 1] ?? 0, (other[other.length - 1] ?? 0) - lag);
  let offset = lag;
  let i = 0;
  for (let from = Math.min(first[0] ?? 0, (other[0] ?? 0) - lag); from <= end; from += PIECE) {
    const to = from + PIECE;
    const best = bestSlip(first, other, { from, to, offset });
    offset += best.slip;
    const { median } = best.found;
    for (; i < other.length && other[i]! - offset < to; i++) moved[i] = other[i]! - offset - median;
  }
  for (; i < other.length; i++) moved[i] = other[i]! - offset;
  // Pieces meet with a step of a hundredth of a cell or so: the order stands.
  return moved.sort();
}

interface TurnViews {
  views: TurnView[];
  /** Cells of one turn. */
  cells: number;
  /** Where the first turn begins on its reading's own grid. */
  origin: number;
}

/** Every turn of the readings on the first turn's grid. */
export function turnViews(readings: readonly ClockedReading[]): TurnViews {
  const views: TurnView[] = [];
  let cells = 0;
  let origin = 0;
  let first: Float64Array | null = null;
  for (const [number, clocked] of readings.entries()) {
    const { index } = clocked.reading;
    for (let turn = 0; turn + 1 < index.length; turn++) {
      const start = startOfTurn(clocked, turn);
      const length = placeOf(clocked, index[turn + 1]!) - start;
      if (cells === 0) cells = Math.round(length);
      const { places, count } = clocked;
      const from = firstAtOrAfter(places, count, start - BEFORE);
      const to = firstAtOrAfter(places, count, start + length + BEHIND);
      const own = places.slice(from, to).map((place) => place - start);
      const laid: Float64Array = first === null ? own : laidOver(first, own);
      if (first === null) origin = start;
      first ??= laid;
      views.push({
        reading: number,
        turn,
        places: laid,
        from: laid[0] ?? 0,
        to: laid[laid.length - 1] ?? 0,
      });
    }
  }
  return { views, cells, origin };
}
