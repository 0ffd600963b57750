/**
 * What all turns say together for a transition in each cell, by the run before it and the run
 * after it: log-likelihoods. The stretch around each transition, half of each run, belongs to it,
 * so that the stretches of a sequence tile the track and their figures add up to its likelihood.
 */
import { firstAtOrAfter } from '@/core/encoding';
import { STEP } from './garbage-chain';
import { BLOCK, type TrackModel } from './track-model';
import type { TurnView } from './turn-views';

/** A turn with the place by which each transition is counted to a stretch. */
export interface CountedTurn extends TurnView {
  /** As `places`, but of a group of turns its middle, so that noise breaks no stretch. */
  counted: Float64Array;
}

export interface CellMetric {
  from: number;
  /** Cells from `from` on. */
  cells: number;
  kinds: number;
  /** By cell, run before and run after. */
  values: Float32Array;
}

/** A transition displaced alike in all turns lies anywhere within so many cells. */
const MOVED_RANGE = 1.8;
const MOST_MOVED = 0.9;
/** Nearer than this many deviations it is no question. */
const MOVED_FROM = 1.5;
/**
 * A transition too many in all turns is as good as never: where noise is strong it would explain
 * away what is there.
 */
const ADDED = 2e-6;
/** What garbage makes likely, by how many transitions stand there. */
const GARBAGE = [0.3, 0.3, 0.3, 0.15, 0.075, 0.0375, 0.01875, 0.009375, 0.005];
/** Keeps logarithms finite, of all turns and of one. */
const FLOOR = 1e-250;
const TURN_FLOOR = 1e-25;
const ROOT_TAU = Math.sqrt(2 * Math.PI);

/** The exponential function falling from 1, in so many steps a unit; the rest is nothing. */
const BELL_STEPS = 128;
const BELL = Float64Array.from({ length: 40 * BELL_STEPS }, (_, i) => Math.exp(-i / BELL_STEPS));
const BELL_END = BELL.length - 1;
const bell = (power: number): number => (power < BELL_END ? BELL[(power + 0.5) | 0]! : 0);

export function cellMetric(
  turns: readonly CountedTurn[],
  model: TrackModel,
  from: number,
  to: number,
): CellMetric {
  const { kinds } = model;
  const cells = Math.max(0, to - from);
  const values = new Float32Array(cells * kinds * kinds);
  const worker = new CellWorker(turns, model, from);
  for (let i = 0; i < cells; i++) worker.cell(from + i, values, i * kinds * kinds);
  return { from, cells, kinds, values };
}

/** More transitions in one stretch are counted as so many. */
const MOST_COUNTED = 8;
const KINDS_OF_COUNT = MOST_COUNTED + 1;

/** Hot loop: a track has a million stretches, and each is asked of every turn. */
class CellWorker {
  /** The turns' transitions one behind the other, and where each turn's end. */
  private readonly places: Float64Array;
  private readonly counted: Float64Array;
  private readonly ends: Int32Array;
  /** By turn and kind of run: the first transition behind the left end, and behind the right end. */
  private readonly left: Int32Array;
  private readonly right: Int32Array;
  /** Chance of extra transitions, by how many there are. */
  private readonly powers: Float64Array;
  /** Turns that have seen this cell. */
  private readonly seen: Int32Array;
  private seenCount = 0;
  /** By turn, for the step: chance that it is no garbage, and what garbage is worth by count. */
  private readonly kept: Float64Array;
  private readonly waste: Float64Array;
  private step = -1;
  private readonly empty = new Map<number, number>();
  private spread = 0;
  private scale = 0;

  constructor(
    private readonly turns: readonly CountedTurn[],
    private readonly model: TrackModel,
    from: number,
  ) {
    const { kinds, shortest, extra } = model;
    const starts = turns.map((_, turn) =>
      turns.slice(0, turn).reduce((sum, { places }) => sum + places.length, 0),
    );
    const all = starts.reduce(
      (sum, start, turn) => Math.max(sum, start + turns[turn]!.places.length),
      0,
    );
    this.places = new Float64Array(all);
    this.counted = new Float64Array(all);
    this.ends = new Int32Array(turns.length);
    this.left = new Int32Array(turns.length * kinds);
    this.right = new Int32Array(turns.length * kinds);
    for (const [turn, { places, counted }] of turns.entries()) {
      const start = starts[turn]!;
      this.places.set(places, start);
      this.counted.set(counted, start);
      this.ends[turn] = start + places.length;
      for (let kind = 0; kind < kinds; kind++) {
        const half = (shortest + kind) / 2;
        this.left[turn * kinds + kind] = start + firstAbove(counted, from - half);
        this.right[turn * kinds + kind] = start + firstAbove(counted, from + half);
      }
    }
    this.powers = Float64Array.from({ length: KINDS_OF_COUNT }, (_, n) => extra ** n);
    this.seen = new Int32Array(turns.length);
    this.kept = new Float64Array(turns.length);
    this.waste = new Float64Array(turns.length * KINDS_OF_COUNT);
  }

  /** Puts the figures of one cell; cells come in their order. */
  cell(cell: number, values: Float32Array, at: number): void {
    const { kinds, shift, local, sigma: own } = this.model;
    const isBusy = this.follow(cell);
    const step = Math.max(0, Math.floor(cell / STEP));
    this.look(cell, step);
    const nothing = this.emptyFigure(step, cell);
    if (!isBusy) {
      values.fill(nothing, at, at + kinds * kinds);
      return;
    }
    const block = Math.max(0, Math.floor(cell / BLOCK));
    const sigma = Math.max(own, local?.[Math.min(block, local.length - 1)] ?? 0);
    this.spread = BELL_STEPS / (2 * sigma * sigma);
    this.scale = (1 - this.model.missed) / (sigma * ROOT_TAU);
    for (let before = 0; before < kinds; before++)
      for (let after = 0; after < kinds; after++) {
        const pair = before * kinds + after;
        values[at + pair] = this.figure(before, after, cell + shift[pair]!, sigma, nothing);
      }
  }

  /** Moves the ends of the stretches on; false where no turn has anything in the widest. */
  private follow(cell: number): boolean {
    const { left, right, counted, ends } = this;
    const { kinds, shortest } = this.model;
    let isBusy = false;
    for (let turn = 0; turn < ends.length; turn++) {
      const end = ends[turn]!;
      for (let at = turn * kinds, half = shortest / 2; at < (turn + 1) * kinds; at++, half += 0.5) {
        while (left[at]! < end && counted[left[at]!]! <= cell - half) left[at]!++;
        while (right[at]! < end && counted[right[at]!]! <= cell + half) right[at]!++;
      }
      const widest = (turn + 1) * kinds - 1;
      if (right[widest]! > left[widest]!) isBusy = true;
    }
    return isBusy;
  }

  /** Which turns have seen the cell, and how far each is trusted there. */
  private look(cell: number, step: number): void {
    const { turns, seen, kept, waste } = this;
    this.seenCount = 0;
    for (let turn = 0; turn < turns.length; turn++)
      if (cell >= turns[turn]!.from && cell <= turns[turn]!.to) seen[this.seenCount++] = turn;
    if (step === this.step) return;
    this.step = step;
    for (let turn = 0; turn < turns.length; turn++) {
      const doubts = this.model.garbage[turn]!;
      const doubt = doubts[Math.min(step, doubts.length - 1)]!;
      kept[turn] = 1 - doubt;
      for (let n = 0; n <= MOST_COUNTED; n++)
        waste[turn * KINDS_OF_COUNT + n] = doubt * GARBAGE[n]! + TURN_FLOOR;
    }
  }

  /** Where no turn has anything: missed in each, or lost in all. */
  private emptyFigure(step: number, cell: number): number {
    const isEdge = this.turns.some(({ from, to }) => cell < from + BLOCK || cell > to - BLOCK);
    const known = isEdge ? undefined : this.empty.get(step);
    if (known !== undefined) return known;
    let missed = 1;
    let lost = this.model.lost;
    for (let i = 0; i < this.seenCount; i++) {
      const turn = this.seen[i]!;
      const waste = this.waste[turn * KINDS_OF_COUNT]!;
      missed *= this.kept[turn]! * this.model.missed + waste;
      lost *= this.kept[turn]! + waste;
    }
    const figure = Math.log(missed + lost + FLOOR);
    if (!isEdge) this.empty.set(step, figure);
    return figure;
  }

  /** Whether no turn has anything in this stretch. */
  private isEmpty(before: number, after: number): boolean {
    const { left, right, seen, seenCount } = this;
    const { kinds } = this.model;
    for (let i = 0; i < seenCount; i++) {
      const at = seen[i]! * kinds;
      if (right[at + after]! > left[at + before]!) return false;
    }
    return true;
  }

  /** The logarithm of what all turns have in this stretch, given the transition. */
  private figure(
    before: number,
    after: number,
    centre: number,
    sigma: number,
    nothing: number,
  ): number {
    if (this.isEmpty(before, after)) return nothing;
    const { left, right, seen, seenCount, kept, waste, powers, spread, scale, places } = this;
    const { kinds, missed } = this.model;
    let having = 0;
    let offset = 0;
    let isAdded = true;
    let lost = this.model.lost;
    let plain = 1;
    for (let i = 0; i < seenCount; i++) {
      const turn = seen[i]!;
      const at = turn * kinds;
      const from = left[at + before]!;
      let n = right[at + after]! - from;
      if (n > MOST_COUNTED) n = MOST_COUNTED;
      const garbage = waste[turn * KINDS_OF_COUNT + n]!;
      const none = powers[n]!;
      let there = missed * none;
      if (n < 2) isAdded = false;
      if (n > 0) {
        let nearest = places[from]! - centre;
        let density = bell(nearest * nearest * spread);
        for (let j = from + 1; j < from + n; j++) {
          const off = places[j]! - centre;
          density += bell(off * off * spread);
          if (off * off < nearest * nearest) nearest = off;
        }
        there += powers[n - 1]! * density * scale;
        having++;
        offset += nearest;
      }
      lost *= kept[turn]! * none + garbage;
      plain *= kept[turn]! * there + garbage;
    }
    let sum = plain + lost;
    if (isAdded) sum += ADDED * this.terms(before, after, centre, 1);
    const moved = offset / having;
    const size = Math.abs(moved);
    if (size > MOVED_FROM * sigma && size < MOST_MOVED)
      sum +=
        ((this.model.moved * ROOT_TAU * sigma) / Math.sqrt(having) / MOVED_RANGE) *
        this.terms(before, after, centre + moved, 0);
    return Math.log(sum + FLOOR);
  }

  /** The turns' likelihoods, multiplied; `added` of each turn's transitions count as no chance. */
  private terms(before: number, after: number, centre: number, added: number): number {
    const { left, right, seen, seenCount, kept, waste, powers, spread, scale, places } = this;
    const { kinds, missed } = this.model;
    let product = 1;
    for (let i = 0; i < seenCount; i++) {
      const turn = seen[i]!;
      const from = left[turn * kinds + before]!;
      let n = right[turn * kinds + after]! - from;
      if (n > MOST_COUNTED) n = MOST_COUNTED;
      let there = missed * powers[n]!;
      if (n > 0) {
        let density = 0;
        for (let j = from; j < from + n; j++) {
          const off = places[j]! - centre;
          density += bell(off * off * spread);
        }
        there += powers[n - 1 - added > 0 ? n - 1 - added : 0]! * density * scale;
      }
      product *= kept[turn]! * there + waste[turn * KINDS_OF_COUNT + n]!;
    }
    return product;
  }
}

function firstAbove(places: Float64Array, place: number): number {
  let at = firstAtOrAfter(places, places.length, place);
  while (at < places.length && places[at]! <= place) at++;
  return at;
}
