/** Paints what the turns of a reading hold onto a canvas, one ribbon a turn. */
import { ScaleLinear, scaleLinear } from 'd3';
import { RUNS } from '@/core/encoding';
import type { EncodingId } from '@/core/layout/layout';
import type { LoupeTurn } from '@/core/reading/analysis/loupe';

/**
 * Pixels of the margin and of the gap before it; of all bands together, of one at least and at
 * most.
 */
export const MARGIN = 120;

export const GAP = 10;

const BANDS = 250;

export const bandOf = (turns: number) =>
  Math.round(Math.max(50, Math.min(96, BANDS / Math.max(1, turns))));

export interface RibbonsProps {
  turns: readonly LoupeTurn[];
  encoding: EncodingId;
  cellTicks: number;
  tickHz: number;
  from: number;
  to: number;
  /** The sector looked at, in shares of the turn. */
  marked: { angle: number; span: number } | null;
  width: number;
  onZoom: (from: number, to: number) => void;
}

const SCHEME = [
  'ground',
  'sheet',
  'ink',
  'ink-2',
  'line',
  'oxide',
  'grade-mended',
  'grade-doubtful',
  'oxide-wash',
] as const;

type Colours = Record<(typeof SCHEME)[number], string>;

export function paint(
  context: CanvasRenderingContext2D,
  canvas: HTMLCanvasElement,
  { turns, encoding, from, to, marked, width }: RibbonsProps,
): void {
  const style = getComputedStyle(canvas);
  const colour = Object.fromEntries(
    SCHEME.map((name) => [name, style.getPropertyValue(`--${name}`).trim()]),
  ) as Colours;
  const chart = width - MARGIN - GAP;
  const x = scaleLinear([from, to], [0, chart]);
  const band = bandOf(turns.length);
  const { shortest, longest } = RUNS[encoding];
  context.fillStyle = colour.ground;
  context.fillRect(0, 0, width, turns.length * band);
  for (const [i, { ribbon }] of turns.entries()) {
    const top = i * band;
    const { columns, rows, density, counts, cell } = ribbon;
    const y = scaleLinear([0, ribbon.longest], [top + 2, top + band - 3]);
    context.fillStyle = colour.sheet;
    context.fillRect(0, top, width, band - 2);
    paintMarked(marked, context, colour, x, chart, top, band);
    const w = chart / columns;
    const h = (band - 5) / rows;
    context.fillStyle = colour.ink;
    const most = Math.max(4, density.reduce((max, value) => Math.max(max, value), 0) * 0.6);
    paintDensity(rows, columns, density, context, most, w, top, h);
    context.globalAlpha = 1;
    // Where the recovery decides between a run and the next longer one: it goes with the cell that
    // it follows.
    context.strokeStyle = colour.oxide;
    context.lineWidth = 1;
    paintBoundaries(shortest, longest, context, columns, cell, y, w);
    paintHistogram(counts, context, colour, rows, chart, top, h);
  }
}

function paintMarked(
  marked: RibbonsProps['marked'],
  context: CanvasRenderingContext2D,
  colour: Colours,
  x: ScaleLinear<number, number, never>,
  chart: number,
  top: number,
  band: number,
) {
  if (marked) {
    context.fillStyle = colour['oxide-wash'];
    const [a, b] = [Math.max(0, x(marked.angle)), Math.min(chart, x(marked.angle + marked.span))];
    if (b > a) context.fillRect(a, top, b - a, band - 2);
  }
}

function paintDensity(
  rows: number,
  columns: number,
  density: Uint16Array<ArrayBufferLike>,
  context: CanvasRenderingContext2D,
  most: number,
  w: number,
  top: number,
  h: number,
) {
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const count = density[row * columns + column]!;
      if (count === 0) continue;
      context.globalAlpha = Math.min(1, 0.18 + count / most);
      context.fillRect(column * w, top + 2 + row * h, Math.max(1, w), Math.max(1, h));
    }
  }
}

function paintBoundaries(
  shortest: number,
  longest: number,
  context: CanvasRenderingContext2D,
  columns: number,
  cell: Float32Array<ArrayBufferLike>,
  y: ScaleLinear<number, number, never>,
  w: number,
) {
  for (let run = shortest; run < longest; run++) {
    context.beginPath();
    let drawing = false;
    for (let column = 0; column < columns; column++) {
      if (cell[column] === 0 || column % 6 > 3) {
        drawing = false;
        continue;
      }
      const at = y(cell[column]! * (run + 0.5));
      if (drawing) context.lineTo(column * w, at);
      else context.moveTo(column * w, at);
      drawing = true;
    }
    context.stroke();
  }
}

function paintHistogram(
  counts: Uint32Array<ArrayBufferLike>,
  context: CanvasRenderingContext2D,
  colour: Colours,
  rows: number,
  chart: number,
  top: number,
  h: number,
) {
  const largest = counts.reduce((max, value) => Math.max(max, value), 1);
  context.fillStyle = colour['grade-mended'];
  for (let row = 0; row < rows; row++)
    if (counts[row]! > 0)
      context.fillRect(
        chart + GAP,
        top + 2 + row * h,
        Math.max(1, (counts[row]! / largest) * MARGIN),
        Math.max(0.6, h * 0.8),
      );
}
