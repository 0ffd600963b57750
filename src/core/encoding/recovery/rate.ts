/**
 * Finds the half-cell length of an MFM reading from its intervals alone: 2, 3 and 4 half cells make three heaps
 * whose spacing gives the cell (ECMA-78 and ECMA-100: 250 kbit/s; ISO 8860: 500 kbit/s; 300 in a 360 rpm drive).
 */

/** Half-cell lengths looked for: 125 kbit/s less 10 % to 500 kbit/s more 15 %, in seconds. */
const LONGEST_CELL = 4.4e-6;
const SHORTEST_CELL = 0.85e-6;
const STEP = 1.01;
/** Ticks in the shortest half cell below which intervals can't be told apart. */
const LEAST_TICKS = 3;
/** Bytes of varints looked at: enough for three heaps, few enough to cost nothing. */
const SAMPLE_BYTES = 9000;
/** Below this share of intervals on a heap nothing was recorded with this code. */
const ENOUGH = 0.5;

/** Share of intervals within a fifth of a cell of 2, 3 or 4 cells, less where one of the heaps is empty. */
function heapShare(histogram: Uint32Array, total: number, cell: number): number {
  let share = 0;
  let filled = 0;
  for (let cells = 2; cells <= 4; cells++) {
    const from = Math.max(0, Math.ceil((cells - 0.22) * cell));
    const to = Math.min(histogram.length - 1, Math.floor((cells + 0.22) * cell));
    let inHeap = 0;
    for (let ticks = from; ticks <= to; ticks++) inHeap += histogram[ticks]!;
    share += inHeap / total;
    if (inHeap > total * 0.01) filled++;
  }
  return filled >= 2 ? share : share * 0.5;
}

/** Mean length of a half cell over the intervals that lie on a heap. */
function refine(histogram: Uint32Array, cell: number): number {
  let ticks = 0;
  let cells = 0;
  for (let value = Math.ceil(1.7 * cell); value < Math.min(histogram.length, 4.35 * cell); value++) {
    const near = Math.round(value / cell);
    if (Math.abs(value / cell - near) > 0.3) continue;
    ticks += histogram[value]! * value;
    cells += histogram[value]! * near;
  }
  return cells > 0 ? ticks / cells : cell;
}

/** Counts the one- and two-byte varints of three stretches of the flux, so that no hurt or empty part decides alone. */
function sampleHistogram(flux: Uint8Array, histogram: Uint32Array): number {
  const stretch = Math.min(Math.floor(flux.length / 3), SAMPLE_BYTES / 3);
  let total = 0;
  for (let part = 0; part < 3; part++) {
    let at = Math.floor((flux.length - stretch) * (part / 2));
    const end = at + stretch;
    // To the start of a varint.
    while (at > 0 && at < end && flux[at - 1]! > 0x7f) at++;
    while (at + 1 < end) {
      const first = flux[at]!;
      const two = first >>> 7;
      const value = (first & 0x7f) | ((flux[at + 1]! & 0x7f & -two) << 7);
      at += 1 + two;
      if (value < histogram.length) {
        histogram[value]!++;
        total++;
      }
    }
  }
  return total;
}

/**
 * Half cell in ticks, or 0 where the intervals show no such code. `hint` (ticks, or 0) is tried first.
 */
export function estimateCell(flux: Uint8Array, tickHz: number, hint: number): number {
  // Too coarse a clock for any heap to show, and for the fixed point of the recoveries.
  if (SHORTEST_CELL * tickHz < LEAST_TICKS) return 0;
  const histogram = new Uint32Array(Math.ceil(LONGEST_CELL * tickHz * 4.5) + 1);
  const total = sampleHistogram(flux, histogram);
  if (total < 64) return 0;
  if (hint > 0 && heapShare(histogram, total, hint) > 0.9) return refine(histogram, hint);
  let best = 0;
  let bestShare = 0;
  for (let cell = SHORTEST_CELL * tickHz; cell <= LONGEST_CELL * tickHz; cell *= STEP) {
    const share = heapShare(histogram, total, cell);
    if (share > bestShare) { bestShare = share; best = cell; }
  }
  return bestShare >= ENOUGH ? refine(histogram, refine(histogram, best)) : 0;
}
