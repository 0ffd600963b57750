/**
 * What speaks for a transition in each cell of a field, from one turn or several: the first half
 * of reading a field
 * by maximum likelihood. The clock is followed forwards by a stiff loop and then smoothed both
 * ways, peak shift is
 * estimated and taken out, and each transition's distance from its cell becomes a gain
 * (log-likelihood, normal noise).
 * Gains of several turns add up. The second half, the best sequence that the code allows, is each
 * encoding's own.
 */

/** Gains of consecutive cells; positive speaks for a transition, −`most` where nothing was seen. */
export interface CellGains {
  cells: Float32Array;
  /** Largest gain that one transition can give, summed over the turns. */
  most: number;
  turns: number;
}

/** A field in one turn: its sync's last transition and what follows. */
interface FieldWindow {
  /** Times of all transitions of the reading, in ticks, ascending. */
  times: Float64Array;
  count: number;
  syncTick: number;
  /** Cells from that transition to the field's first. */
  syncCells: number;
  /** Length of a cell in ticks, about. */
  cellTicks: number;
}

/** Runs that the code can have, in cells. */
export interface RunRange {
  shortest: number;
  longest: number;
}

export const RUNS: Readonly<Record<'fm' | 'mfm' | 'gcr-4to5' | 'gcr-6and2', RunRange>> =
  Object.freeze({
    fm: { shortest: 1, longest: 2 },
    mfm: { shortest: 2, longest: 4 },
    'gcr-4to5': { shortest: 1, longest: 3 },
    'gcr-6and2': { shortest: 1, longest: 3 },
  });

const PHASE_GAIN = 0.12;
const RATE_GAIN = 0.0015;
const MAX_DRIFT = 0.08;
/** Transitions on each side over which the clock is smoothed. */
const SMOOTHING = 28;
/** Cells before the sync's transition and behind the field that are looked at too. */
const MARGIN = 20;
const LEAST_SIGMA = 0.06;
const MAX_SIGMA = 0.22;
/** An outlier tells no more than this, however calm the rest is. */
const MAX_GAIN = 12;

/** First index of `times` that is not below `tick`. */
export function firstAtOrAfter(times: Float64Array, count: number, tick: number): number {
  let low = 0;
  let high = count;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle]! < tick) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * Places of the window's transitions in cells from the sync's transition, as the loop rounds them.
 */
function followClock(
  { times, count, cellTicks }: FieldWindow,
  from: number,
  anchor: number,
  lastCell: number,
): { nearest: Int32Array; used: number } {
  const nearest = new Int32Array(Math.min(count - from, 4 * (lastCell + 2 * MARGIN) + 16));
  // Backwards over the few cells before the sync's transition no loop is needed.
  for (let i = from; i < anchor; i++)
    nearest[i - from] = Math.round((times[i]! - times[anchor]!) / cellTicks);
  let place = 0;
  let cell = cellTicks;
  let used = anchor - from + 1;
  nearest[used - 1] = 0;
  for (let i = anchor + 1; i < count && used < nearest.length; i++, used++) {
    place += (times[i]! - times[i - 1]!) / cell;
    const whole = Math.round(place);
    if (whole > lastCell + MARGIN) break;
    const error = place - whole;
    place -= PHASE_GAIN * error;
    cell = Math.max(
      cellTicks * (1 - MAX_DRIFT),
      Math.min(cellTicks * (1 + MAX_DRIFT), cell * (1 + RATE_GAIN * error)),
    );
    nearest[used] = whole;
  }
  return { nearest, used };
}

/**
 * Distance of each transition from its cell, in cells, against a clock smoothed over neighbours on
 * both sides.
 */
function distances(
  times: Float64Array,
  from: number,
  nearest: Int32Array,
  used: number,
  cellTicks: number,
): Float64Array {
  const span = nearest[used - 1]! - nearest[0]!;
  const cell = span > 100 ? (times[from + used - 1]! - times[from]!) / span : cellTicks;
  const off = new Float64Array(used);
  const sums = new Float64Array(used + 1);
  for (let i = 0; i < used; i++) {
    off[i] = (times[from + i]! - times[from]!) / cell - (nearest[i]! - nearest[0]!);
    sums[i + 1] = sums[i]! + off[i]!;
  }
  const away = new Float64Array(used);
  for (let i = 0; i < used; i++) {
    // The same number on both sides, so that a steady change of speed cancels out.
    const range = Math.min(SMOOTHING, i, used - 1 - i);
    const mean =
      range < 6
        ? (sums[Math.min(used, i + 7)]! - sums[Math.max(0, i - 6)]!) /
          (Math.min(used, i + 7) - Math.max(0, i - 6))
        : (sums[i + range + 1]! - sums[i - range]!) / (2 * range + 1);
    away[i] = off[i]! - mean;
  }
  return away;
}

/** Takes peak shift out: close transitions drive each other apart, by an amount fitted here. */
function unshift(
  away: Float64Array,
  nearest: Int32Array,
  used: number,
  { shortest, longest }: RunRange,
): void {
  const closeness = (run: number) =>
    Math.max(0, Math.min(1, (longest - run) / (longest - shortest)));
  const push = new Float64Array(used);
  let cross = 0;
  let square = 0;
  for (let i = 1; i + 1 < used; i++) {
    const before = nearest[i]! - nearest[i - 1]!;
    const after = nearest[i + 1]! - nearest[i]!;
    if (before < shortest || after < shortest || before > longest || after > longest) continue;
    push[i] = closeness(before) - closeness(after);
    if (Math.abs(away[i]!) > 0.45) continue;
    cross += away[i]! * push[i]!;
    square += push[i]! * push[i]!;
  }
  const shift = square > 20 ? cross / square : 0;
  for (let i = 0; i < used; i++) away[i]! -= shift * push[i]!;
}

function sigmaOf(away: Float64Array): number {
  const sizes = away.map(Math.abs).sort();
  const median = sizes[sizes.length >> 1] ?? MAX_SIGMA;
  return Math.max(LEAST_SIGMA, Math.min(MAX_SIGMA, median / 0.6745));
}

/**
 * Gains of `cells` cells from the field's first on, in one turn; null where the reading ends
 * before.
 */
export function gainsOfWindow(
  window: FieldWindow,
  cells: number,
  runs: RunRange,
): CellGains | null {
  const { times, count, syncTick, syncCells, cellTicks } = window;
  const anchor = firstAtOrAfter(times, count, syncTick - 0.5);
  if (anchor >= count || Math.abs(times[anchor]! - syncTick) > 1) return null;
  const lastCell = syncCells + cells;
  if (times[count - 1]! < times[anchor]! + lastCell * cellTicks * (1 - MAX_DRIFT)) return null;
  const from = firstAtOrAfter(times, count, times[anchor]! - MARGIN * cellTicks);
  const { nearest, used } = followClock(window, from, anchor, lastCell);
  if (used < 16) return null;
  const away = distances(times, from, nearest, used, cellTicks);
  unshift(away, nearest, used, runs);
  const sigma = sigmaOf(away);
  const most = Math.min(MAX_GAIN, 1 / (8 * sigma * sigma));
  const gains = new Float32Array(cells).fill(-most);
  for (let i = 0; i < used; i++) {
    for (let cell = nearest[i]! - 1; cell <= nearest[i]! + 1; cell++) {
      const at = cell - syncCells;
      if (at < 0 || at >= cells) continue;
      const distance = nearest[i]! + away[i]! - cell;
      const gain = Math.max(-most, 4 * most * (0.25 - distance * distance));
      if (gain > gains[at]!) gains[at] = gain;
    }
  }
  return { cells: gains, most, turns: 1 };
}

/** What all the turns say together. */
export function addGains(all: readonly CellGains[]): CellGains {
  const cells = Float32Array.from(all[0]!.cells);
  for (const { cells: more } of all.slice(1))
    for (let i = 0; i < cells.length; i++) cells[i]! += more[i]!;
  return {
    cells,
    most: all.reduce((sum, { most }) => sum + most, 0),
    turns: all.reduce((sum, { turns }) => sum + turns, 0),
  };
}
