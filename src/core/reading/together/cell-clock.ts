/**
 * The clock of a whole reading, followed both ways: where each transition lies on a grid of cells.
 * A Kalman filter over the grid's time and the length of its cell, and the fixed-interval smoother
 * behind it (Rauch, Tung and Striebel, 1965). One slow clock for all of it: a hurt spot of some
 * hundred cells hardly moves it.
 */

/** How much a transition may tell the clock, by what stands around it; variances in cells². */
interface ClockNoise {
  calm: number;
  rough: number;
  /** Density of transitions that have nothing to do with the grid. */
  stray: number;
}

/** Usual: transitions whose neighbours pull them equally to both sides tell most. */
const USUAL: ClockNoise = Object.freeze({ calm: 0.03, rough: 0.4, stray: 0.1 });
/** Strong peak shift in group codes: only what stands among runs of one cell, or of two, is calm. */
const STRONG_SHIFT: ClockNoise = Object.freeze({ calm: 0.01, rough: 0.4, stray: 0.03 });

/** Change of the cell's length from one cell to the next, as a variance. */
const WANDER = 1.2e-10;
const START_PHASE = 0.1;
const START_LENGTH = 2.5e-5;
const MAX_DRIFT = 0.08;
/** Neighbouring intervals are alike within this share of the shortest run. */
const ALIKE = 0.22;
const ALIKE_SHORT = 0.15;
/** Behind a gap of more cells than this a transition tells less. */
const LONG_GAP = 12;
const BEHIND_GAP = 0.3;

/**
 * Transitions that go on lying to one side of their cells were written by another hand: a data field
 * behind a splice. By the running mean of how far aside they lie, the grid is looked for anew.
 */
const LEAN = 0.1;
const MOST_LEAN = 0.25;

interface ClockAsked {
  /** Times of transitions in ticks, ascending. */
  times: Float64Array;
  count: number;
  cellTicks: number;
  /** Shortest run of the code, in cells. */
  shortest: number;
  strongShift?: boolean;
}

/** A row of a filter: the grid's time, the cell, and the three entries of their covariance. */
const STATE = 5;

/** Places of the transitions in cells, from the first one's cell on. */
export function placesOnGrid(asked: ClockAsked): Float64Array {
  const { times, count, cellTicks } = asked;
  const places = new Float64Array(count);
  if (count === 0) return places;
  const cells = new Int32Array(count);
  const filtered = new Float64Array(count * STATE);
  const predicted = new Float64Array(count * STATE);
  runForward(asked, cells, filtered, predicted);
  // Backward: the state of the next, smoothed, corrects this one.
  let time = filtered[(count - 1) * STATE]!;
  let length = filtered[(count - 1) * STATE + 1]!;
  for (let i = count - 1; i >= 0; i--) {
    const at = i * STATE;
    if (i < count - 1) {
      const step = cells[i + 1]! - cells[i]!;
      const next = at + STATE;
      const p00 = filtered[at + 2]!;
      const p01 = filtered[at + 3]!;
      const p11 = filtered[at + 4]!;
      // P Fᵀ, then times the inverse of the predicted covariance.
      const a00 = p00 + step * p01;
      const a10 = p01 + step * p11;
      const q00 = predicted[next + 2]!;
      const q01 = predicted[next + 3]!;
      const q11 = predicted[next + 4]!;
      const determinant = q00 * q11 - q01 * q01;
      const dTime = time - predicted[next]!;
      const dLength = length - predicted[next + 1]!;
      const u = (q11 * dTime - q01 * dLength) / determinant;
      const v = (q00 * dLength - q01 * dTime) / determinant;
      time = filtered[at]! + a00 * u + p01 * v;
      length = filtered[at + 1]! + a10 * u + p11 * v;
    }
    places[i] = cells[i]! + (times[i]! / cellTicks - time) / length;
  }
  return places;
}

/** Whether the neighbours of a transition pull it to both sides alike. */
function isCalm(
  { times, count, cellTicks, shortest, strongShift }: ClockAsked,
  i: number,
): boolean {
  const left = i > 0 ? (times[i]! - times[i - 1]!) / cellTicks : 0;
  const right = i + 1 < count ? (times[i + 1]! - times[i]!) / cellTicks : 0;
  if (!strongShift) return Math.abs(left - right) < ALIKE * shortest;
  const isAmong = (run: number) =>
    Math.abs(left - run) < ALIKE_SHORT &&
    Math.abs(right - run) < ALIKE_SHORT &&
    Math.abs(left - right) < ALIKE_SHORT;
  return isAmong(1) || isAmong(2);
}

function runForward(
  asked: ClockAsked,
  cells: Int32Array,
  filtered: Float64Array,
  predicted: Float64Array,
): void {
  const { times, count, cellTicks } = asked;
  const noise = asked.strongShift ? STRONG_SHIFT : USUAL;
  let time = times[0]! / cellTicks;
  let length = 1;
  let p00 = START_PHASE;
  let p01 = 0;
  let p11 = START_LENGTH;
  let cell = 0;
  let lean = 0;
  for (let i = 0; i < count; i++) {
    const now = times[i]! / cellTicks;
    const step = Math.max(0, Math.round((now - time) / length));
    cell += step;
    time += step * length;
    p00 += step * (2 * p01 + step * p11) + (WANDER * step * step * step) / 3;
    p01 += step * p11 + (WANDER * step * step) / 2;
    p11 += WANDER * step;
    const aside = now - time;
    lean = i > 0 && step > 0 ? (1 - LEAN) * lean + LEAN * aside : lean;
    if (Math.abs(lean) > MOST_LEAN) {
      p00 += START_PHASE;
      lean = 0;
    }
    const at = i * STATE;
    predicted.set([time, length, p00, p01, p11], at);
    if (step > 0 || i === 0) {
      const variance = isCalm(asked, i) ? noise.calm : noise.rough;
      const density =
        Math.exp((-aside * aside) / (2 * variance)) / Math.sqrt(2 * Math.PI * variance);
      const trust = (density / (density + noise.stray)) * (step > LONG_GAP ? BEHIND_GAP : 1);
      const whole = p00 + variance / Math.max(trust, 1e-3);
      const gainTime = p00 / whole;
      const gainLength = p01 / whole;
      time += gainTime * aside;
      length = Math.max(1 - MAX_DRIFT, Math.min(1 + MAX_DRIFT, length + gainLength * aside));
      p11 -= gainLength * p01;
      p01 -= gainTime * p01;
      p00 -= gainTime * p00;
    }
    cells[i] = cell;
    filtered.set([time, length, p00, p01, p11], at);
  }
}
