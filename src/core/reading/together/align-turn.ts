/**
 * Which transition of a turn belongs to which of a sequence: the cheapest order-preserving
 * assignment, with transitions that are missing and transitions too many (dynamic programming over
 * a narrow band).
 */
/** Furthest that a transition may lie from its place, in cells. */
const MOST_OFF = 1.1;
const BAND = 2.2;
/** Cost of a transition that is missing, or too many. */
const INDEL = 5;
const LEAST_SIGMA = 0.15;

/** For each transition of the sequence, which of the turn's may be it: behind `first` up to `last`. */
interface Bands {
  first: Int32Array;
  last: Int32Array;
  /** Where the row of each begins in a table of all bands. */
  starts: Int32Array;
  total: number;
}

const TOO_MANY = 2;
const MATCHED = 1;

/**
 * By transition of the sequence: the index of the turn's transition that belongs to it, or −1.
 * `places` and `expected` ascend; `sigma` is the deviation to reckon with, in cells.
 */
export function alignTurn(places: Float64Array, expected: Float64Array, sigma: number): Int32Array {
  const bands = bandsOf(places, expected);
  const taken = new Uint8Array(bands.total);
  fill(places, expected, 1 / (2 * Math.max(LEAST_SIGMA, sigma) ** 2), bands, taken);
  return tracedBack(expected.length, bands, taken);
}

function bandsOf(places: Float64Array, expected: Float64Array): Bands {
  const count = expected.length;
  const first = new Int32Array(count);
  const last = new Int32Array(count);
  const starts = new Int32Array(count);
  let total = 0;
  let low = 0;
  let high = 0;
  for (let j = 0; j < count; j++) {
    while (low < places.length && places[low]! < expected[j]! - BAND) low++;
    while (high < places.length && places[high]! < expected[j]! + BAND) high++;
    first[j] = low;
    last[j] = high;
    starts[j] = total;
    total += high - low + 1;
  }
  return { first, last, starts, total };
}

/** Notes how each place of the bands is reached at the least cost. */
function fill(
  places: Float64Array,
  expected: Float64Array,
  weight: number,
  { first, last, starts, total }: Bands,
  taken: Uint8Array,
): void {
  // The least cost when expected 0 … j and the places before i are settled; `i` runs over a band.
  const reached = new Float64Array(total);
  let rowBefore = 0;
  let lowBefore = 0;
  let highBefore = -1;
  for (let j = 0; j < expected.length; j++) {
    const row = starts[j]!;
    const low = first[j]!;
    const high = last[j]!;
    const place = expected[j]!;
    for (let i = low; i <= high; i++) {
      // Missing: nothing of the turn is used for it.
      let best = costBefore(reached, rowBefore, lowBefore, highBefore, i) + INDEL;
      let how = 0;
      if (i > low && reached[row + i - low - 1]! + INDEL < best) {
        best = reached[row + i - low - 1]! + INDEL;
        how = TOO_MANY;
      }
      const off = i > 0 ? places[i - 1]! - place : MOST_OFF;
      if (off < MOST_OFF && off > -MOST_OFF) {
        const cost =
          costBefore(reached, rowBefore, lowBefore, highBefore, i - 1) + off * off * weight;
        if (cost < best) {
          best = cost;
          how = MATCHED;
        }
      }
      reached[row + i - low] = best;
      taken[row + i - low] = how;
    }
    rowBefore = row;
    lowBefore = low;
    highBefore = high;
  }
}

/** The cost of the row before with the places before `i` settled; before the first row, nothing. */
function costBefore(
  reached: Float64Array,
  row: number,
  low: number,
  high: number,
  i: number,
): number {
  if (high < 0) return 0;
  if (i < low) return Infinity;
  return i <= high ? reached[row + i - low]! : reached[row + high - low]! + (i - high) * INDEL;
}

function tracedBack(count: number, { first, last, starts }: Bands, taken: Uint8Array): Int32Array {
  const assigned = new Int32Array(count).fill(-1);
  let i = count > 0 ? last[count - 1]! : 0;
  for (let j = count - 1; j >= 0;) {
    i = Math.min(i, last[j]!);
    if (i < first[j]!) {
      j--;
      continue;
    }
    const how = taken[starts[j]! + i - first[j]!]!;
    if (how === TOO_MANY) {
      i--;
      continue;
    }
    if (how === MATCHED) assigned[j] = --i;
    j--;
  }
  return assigned;
}
