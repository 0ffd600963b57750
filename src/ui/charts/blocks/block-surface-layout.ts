/**
 * Where the extents of a linear device lie on its surface: bands of equal stretches of it, first on
 * top, each from left to right.
 */
import { scaleBand, scaleLinear } from 'd3';
import type { Pace } from '@/core/block/extent-map';
import type { Grade } from '@/core/reading/grades';

/** From, the first behind, grade, tries, pace. */
export type PackedExtent = [from: number, to: number, grade: Grade, tries: number, pace: Pace];

export interface BlockView {
  from: number;
  /** The first block behind it. */
  to: number;
}

export interface BlockSurfaceSize {
  width: number;
  height: number;
  view: BlockView;
}

/** Room at the left for the number of a band's first block, in pixels. */
const NUMBERS = 92;
const BAND_HEIGHT = 24;
const MAX_BANDS = 24;
/** Anything but firm is at least this wide: one block of millions must be seen. */
const LEAST_WIDTH = 2;
/** Fewest blocks worth a closer look. */
const LEAST_VIEW = 16;

export function bandScales({ width, height, view }: BlockSurfaceSize) {
  const blocks = Math.max(1, view.to - view.from);
  const bands = Math.max(
    1,
    Math.min(MAX_BANDS, Math.floor(height / BAND_HEIGHT), Math.ceil(blocks / LEAST_VIEW)),
  );
  const span = Math.ceil(blocks / bands);
  return {
    bands,
    span,
    x: scaleLinear([0, span], [NUMBERS, width]),
    y: scaleBand<number>(
      Array.from({ length: bands }, (_, i) => i),
      [0, height],
    ).paddingInner(0.28),
  };
}
type BandScales = ReturnType<typeof bandScales>;

interface BlockBar {
  x: number;
  y: number;
  width: number;
  height: number;
  extent: PackedExtent;
}

/** Bars of what was read, band by band; firm ones first, so that none hides another. */
export function blockBars(
  extents: readonly PackedExtent[],
  { view }: BlockSurfaceSize,
  { span, x, y, bands }: BandScales,
): BlockBar[] {
  const firm: BlockBar[] = [];
  const rest: BlockBar[] = [];
  for (
    let i = firstAfter(extents, view.from);
    i < extents.length && extents[i]![0] < view.to;
    i++
  ) {
    const extent = extents[i]!;
    const [from, to] = [
      Math.max(extent[0], view.from) - view.from,
      Math.min(extent[1], view.to) - view.from,
    ];
    for (let band = Math.floor(from / span); band < bands && band * span < to; band++) {
      const [start, end] = [Math.max(0, from - band * span), Math.min(span, to - band * span)];
      const left = x(start);
      const exact = x(end) - left;
      (extent[2] === 'firm' ? firm : rest).push({
        x: left,
        y: y(band)!,
        width: extent[2] === 'firm' ? exact : Math.max(LEAST_WIDTH, exact),
        height: y.bandwidth(),
        extent,
      });
    }
  }
  return [...firm, ...rest];
}

/** Index of the first extent that ends behind a block. */
function firstAfter(extents: readonly PackedExtent[], block: number): number {
  let [low, high] = [0, extents.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (extents[middle]![1] <= block) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** What is known of a block; null where nothing is. */
export function extentAt(extents: readonly PackedExtent[], block: number): PackedExtent | null {
  const found = extents[firstAfter(extents, block)];
  return found && found[0] <= block ? found : null;
}

/** The block under a point; null beside the bands. */
export function blockAt(px: number, py: number, size: BlockSurfaceSize): number | null {
  const { x, y, span, bands } = bandScales(size);
  const band = Math.floor(py / y.step());
  const at = Math.floor(x.invert(px));
  if (band < 0 || band >= bands || at < 0 || at >= span) return null;
  const block = size.view.from + band * span + at;
  return block < size.view.to ? block : null;
}

/**
 * A view `factor` times as wide around a block, within the device; all of it where that is wider.
 */
export function zoomedView(
  view: BlockView,
  factor: number,
  block: number,
  blocks: number,
): BlockView {
  const wide = Math.max(LEAST_VIEW, Math.min(blocks, Math.round((view.to - view.from) * factor)));
  const from = Math.max(0, Math.min(blocks - wide, Math.round(block - wide / 2)));
  return { from, to: Math.min(blocks, from + wide) };
}

/** The next extent that is not firm, from a block on, onward or back; null where there is none. */
export function nextOdd(
  extents: readonly PackedExtent[],
  block: number,
  onward: boolean,
): PackedExtent | null {
  const odd = extents.filter(([, , grade]) => grade !== 'firm');
  return (
    (onward ? odd.find(([from]) => from > block) : odd.filter(([, to]) => to <= block).pop()) ??
    null
  );
}
