/**
 * Tells from intervals alone which codes a reading may hold and how long their cells are: each
 * code's runs make heaps
 * in the histogram at whole multiples of the cell (FM at 1 and 2, MFM at 2, 3 and 4, the group
 * codes at 1, 2 and 3).
 */
import type { EncodingId } from '../../layout/layout';

/** A code that the intervals fit. */
export interface FluxClass {
  encoding: EncodingId;
  /** Code cell in ticks. */
  cellTicks: number;
  /** Share of the intervals that lie on the code's heaps. */
  share: number;
}

interface Family {
  encodings: readonly EncodingId[];
  histogramPeaks: readonly number[];
  /** Heaps without which it is another code, and the share that each must hold. */
  needed: readonly number[];
  /** Cells looked for, in seconds. */
  shortest: number;
  longest: number;
}

/**
 * FM: 125 to 500 kbit/s; MFM: 125 to 500; group codes: cells of 2 to 4 µs; each with 15 % and more
 * to spare.
 */
const FAMILIES: readonly Family[] = [
  {
    encodings: ['mfm'],
    histogramPeaks: [2, 3, 4],
    needed: [2, 3],
    shortest: 0.82e-6,
    longest: 4.6e-6,
  },
  { encodings: ['fm'], histogramPeaks: [1, 2], needed: [1, 2], shortest: 0.82e-6, longest: 4.8e-6 },
  {
    encodings: ['gcr-4to5', 'gcr-6and2'],
    histogramPeaks: [1, 2, 3],
    needed: [1, 2, 3],
    shortest: 1.6e-6,
    longest: 4.8e-6,
  },
];

const STEP = 1.01;
/** Ticks in a cell below which intervals can't be told apart. */
const LEAST_TICKS = 3;
/** Bytes of varints looked at: enough for three heaps, few enough to cost nothing. */
const SAMPLE_BYTES = 5200;
/** A prime, so that they do not all fall on the same part of every sector. */
const STRETCHES = 13;
const LEAST_INTERVALS = 64;
/** Below this share of intervals on a code's heaps nothing was recorded with it. */
const ENOUGH = 0.55;
/** Share above which the neighbouring track's code is taken without looking further. */
const CLEAR = 0.9;
const HEAP_HALF = 0.22;
const NEEDED_SHARE = 0.006;

/** Counts of intervals up to each length, so that a heap's count is one subtraction. */
class Histogram {
  readonly counts: Uint32Array;
  private readonly upTo: Uint32Array;
  readonly total: number;

  constructor(flux: Uint8Array, bins: number, sampled: number) {
    this.counts = new Uint32Array(bins);
    this.total = sample(flux, this.counts, sampled);
    this.upTo = new Uint32Array(bins + 1);
    for (let i = 0; i < bins; i++) this.upTo[i + 1] = this.upTo[i]! + this.counts[i]!;
  }

  /** Intervals of `from` to `to` ticks, both taken in. */
  between(from: number, to: number): number {
    const bins = this.counts.length;
    return (
      this.upTo[Math.min(bins, Math.floor(to) + 1)]! -
      this.upTo[Math.min(bins, Math.max(0, Math.ceil(from)))]!
    );
  }

  share({ histogramPeaks, needed }: Family, cell: number): number {
    let on = 0;
    let lacking = 0;
    for (const heap of histogramPeaks) {
      const there = this.between((heap - HEAP_HALF) * cell, (heap + HEAP_HALF) * cell);
      if (there < this.total * NEEDED_SHARE && needed.includes(heap)) lacking++;
      on += there;
    }
    return lacking > 0 ? on / this.total / (1 + lacking) : on / this.total;
  }

  /** Mean length of a cell over the intervals that lie on a heap. */
  refined({ histogramPeaks }: Family, cell: number): number {
    let ticks = 0;
    let cells = 0;
    for (const heap of histogramPeaks) {
      const to = Math.min(this.counts.length - 1, Math.floor((heap + 0.3) * cell));
      for (let value = Math.ceil((heap - 0.3) * cell); value <= to; value++) {
        ticks += this.counts[value]! * value;
        cells += this.counts[value]! * heap;
      }
    }
    return cells > 0 ? ticks / cells : cell;
  }
}

/**
 * Counts the one- and two-byte varints of stretches all over the flux, so that no gap and no hurt
 * part decides alone.
 */
function sample(flux: Uint8Array, counts: Uint32Array, bytes: number): number {
  const stretch = Math.min(Math.floor(flux.length / STRETCHES), Math.floor(bytes / STRETCHES));
  let total = 0;
  for (let part = 0; part < STRETCHES; part++) {
    let at = Math.floor(((flux.length - stretch) * part) / (STRETCHES - 1));
    const end = at + stretch;
    // To the start of a varint.
    while (at > 0 && at < end && flux[at - 1]! > 0x7f) at++;
    while (at + 1 < end) {
      const first = flux[at]!;
      const two = first >>> 7;
      const value = (first & 0x7f) | ((flux[at + 1]! & 0x7f & -two) << 7);
      at += 1 + two;
      if (value < counts.length) {
        counts[value]!++;
        total++;
      }
    }
  }
  return total;
}

const familyOf = (encoding: EncodingId) =>
  FAMILIES.find(({ encodings }) => encodings.includes(encoding))!;

/**
 * Codes that the flux fits, best first; none where nothing was recorded. Where the neighbouring
 * track's class `hint`
 * fits clearly, it alone is given, with its cell fitted anew.
 */
export function classifyFlux(
  flux: Uint8Array,
  tickHz: number,
  hint: Pick<FluxClass, 'encoding' | 'cellTicks'> | null,
): FluxClass[] {
  const found = classifySampled(flux, tickHz, hint, SAMPLE_BYTES);
  // A lone short sector on a long gap may lie between the stretches: then all of it is looked at.
  return found.length > 0 || flux.length <= SAMPLE_BYTES
    ? found
    : classifySampled(flux, tickHz, hint, flux.length);
}

function classifySampled(
  flux: Uint8Array,
  tickHz: number,
  hint: Pick<FluxClass, 'encoding' | 'cellTicks'> | null,
  sampled: number,
): FluxClass[] {
  const longest = Math.max(...FAMILIES.map((family) => family.longest * 4.5));
  const histogram = new Histogram(
    flux,
    Math.min(1 << 14, Math.ceil(longest * tickHz) + 1),
    sampled,
  );
  if (histogram.total < LEAST_INTERVALS) return [];
  if (hint) {
    const family = familyOf(hint.encoding);
    const share = histogram.share(family, hint.cellTicks);
    if (share > CLEAR)
      return [
        { encoding: hint.encoding, cellTicks: histogram.refined(family, hint.cellTicks), share },
      ];
  }
  const found: FluxClass[] = [];
  for (const family of FAMILIES) {
    let best = 0;
    let bestShare = 0;
    for (
      let cell = Math.max(LEAST_TICKS, family.shortest * tickHz);
      cell <= family.longest * tickHz;
      cell *= STEP
    ) {
      const share = histogram.share(family, cell);
      if (share > bestShare) {
        bestShare = share;
        best = cell;
      }
    }
    if (bestShare < ENOUGH) continue;
    const cellTicks = histogram.refined(family, histogram.refined(family, best));
    for (const encoding of family.encodings) found.push({ encoding, cellTicks, share: bestShare });
  }
  // Of codes that fit alike the neighbouring track's comes first.
  return found.sort(
    (a, b) =>
      b.share - a.share ||
      Number(b.encoding === hint?.encoding) - Number(a.encoding === hint?.encoding),
  );
}
