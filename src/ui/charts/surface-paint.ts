/** Paints surface on a canvas; grades by lightness and pattern first. */
import { interpolateLab, ScaleBand, ScaleLinear } from 'd3';
import { STEPS, type OverlayScale } from './surface-overlay';
import {
  barOf,
  eachBar,
  surfaceBars,
  surfaceScales,
  viewOf,
  type SurfaceBar,
  type SurfaceScales,
  type SurfaceSize,
} from './surface-layout';
import type { Grade } from '@/core/reading/grades';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';

export interface SurfaceColours {
  ground: string;
  unread: string;
  active: string;
  grades: Record<Exclude<Grade, 'unread'>, string>;
  /** Steps of lightness of an overlay, from nothing to tell to most. */
  steps: string[];
}

export interface SurfacePicture {
  tracks: readonly TrackMarks[];
  /** The track under the head now. */
  active: { cylinder: number; head: number } | null;
  overlay: OverlayScale;
}

/**
 * By scheme: asking the page for its colours makes it work out all its styles anew, which costs
 * more than the chart.
 */
const known = new Map<string, SurfaceColours>();

export function coloursOf(element: Element): SurfaceColours {
  const scheme = document.documentElement.dataset.scheme ?? '';
  let colours = known.get(scheme);
  if (!colours) known.set(scheme, (colours = readColours(element)));
  return colours;
}

function readColours(element: Element): SurfaceColours {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(name).trim();
  const shade = interpolateLab(read('--unread'), read('--ink'));
  return {
    steps: Array.from({ length: STEPS }, (_, i) => shade(0.04 + (0.88 * i) / (STEPS - 1))),
    ground: read('--ground'),
    unread: read('--unread'),
    active: read('--oxide'),
    grades: {
      firm: read('--grade-firm'),
      mended: read('--grade-mended'),
      doubtful: read('--grade-doubtful'),
      lost: read('--grade-lost'),
    },
  };
}

const hatches = new Map<string, CanvasPattern | string>();

/** Slanting lines, made once a colour. */
function hatch(
  context: CanvasRenderingContext2D,
  colour: string,
  ground: string,
): CanvasPattern | string {
  const key = `${colour}/${ground}`;
  const there = hatches.get(key);
  if (there) return there;
  const tile = document.createElement('canvas');
  tile.width = tile.height = 4;
  const pen = tile.getContext('2d')!;
  pen.fillStyle = ground;
  pen.fillRect(0, 0, 4, 4);
  pen.strokeStyle = colour;
  pen.lineWidth = 1.7;
  pen.beginPath();
  for (const offset of [-4, 0, 4]) {
    pen.moveTo(offset, 4);
    pen.lineTo(offset + 4, 0);
  }
  pen.stroke();
  const pattern = context.createPattern(tile, 'repeat') ?? colour;
  hatches.set(key, pattern);
  return pattern;
}

/** What an overlay makes of a bar; null where it says nothing, and the grade's own colour stays. */
export function overlayColour(
  { cylinder, head, mark }: SurfaceBar,
  { tracks, overlay }: Pick<SurfacePicture, 'tracks' | 'overlay'>,
  colours: SurfaceColours,
  tries?: ReadonlyMap<number, number>,
): string | null {
  if (overlay.overlay === 'grade') return null;
  const own =
    tries?.get(cylinder * 2 + head) ??
    tracks.find((track) => track.cylinder === cylinder && track.head === head)?.tries ??
    1;
  const step = overlay.step({ cylinder, head, tries: own }, mark);
  return step === null
    ? null
    : (colours.steps[Math.round((step * (STEPS - 1)) / Math.max(1, overlay.legend.length - 1))] ??
        null);
}

/** One bar in the look of its grade; `over` is an overlay's colour for what is sound. */
export function paintGrade(
  context: CanvasRenderingContext2D,
  bar: Pick<SurfaceBar, 'x' | 'y' | 'width' | 'height' | 'grade' | 'leading'>,
  colours: SurfaceColours,
  over: string | null,
): void {
  const { x, y, width, height, grade, leading } = bar;
  if (grade === 'unread') return;
  const colour =
    grade === 'firm' || grade === 'mended'
      ? (over ?? colours.grades[grade])
      : colours.grades[grade];
  if (grade === 'firm') {
    context.fillStyle = colour;
    context.fillRect(x, y, width, height);
  } else if (grade === 'mended') {
    // The notch lies where the head meets the sector.
    paintMended(height, width, context, colour, leading, x, y);
  } else if (grade === 'doubtful') {
    context.fillStyle = hatch(context, colour, over ?? colours.ground);
    context.fillRect(x, y, width, height);
    context.strokeStyle = colour;
    context.lineWidth = 1;
    context.strokeRect(x + 0.5, y + 0.5, width - 1, Math.max(0, height - 1));
  } else {
    paintUnreadable(context, colours, x, y, width, height, colour);
  }
}

function paintMended(
  height: number,
  width: number,
  context: CanvasRenderingContext2D,
  colour: string,
  leading: string,
  x: number,
  y: number,
) {
  const notch = Math.min(height * 1.4, width / 2);
  context.fillStyle = colour;
  context.beginPath();
  if (leading === 'left')
    (context.moveTo(x + notch, y),
      context.lineTo(x + width, y),
      context.lineTo(x + width, y + height),
      context.lineTo(x, y + height));
  else
    (context.moveTo(x, y),
      context.lineTo(x + width - notch, y),
      context.lineTo(x + width, y + height),
      context.lineTo(x, y + height));
  context.fill();
}

function paintUnreadable(
  context: CanvasRenderingContext2D,
  colours: SurfaceColours,
  x: number,
  y: number,
  width: number,
  height: number,
  colour: string,
) {
  context.fillStyle = colours.ground;
  context.fillRect(x, y, width, height);
  context.strokeStyle = colour;
  context.lineWidth = 1;
  context.strokeRect(x + 0.5, y + 0.5, width - 1, Math.max(0, height - 1));
  context.fillStyle = colour;
  context.fillRect(x, y + height / 2 - 0.75, width, 1.5);
}

function clearTrack(
  context: CanvasRenderingContext2D,
  { x, y }: SurfaceScales,
  colours: SurfaceColours,
  cylinder: number,
  head: number,
  active: boolean,
): void {
  const top = y(cylinder)!;
  const [from, to] = x[head]!.domain();
  const [a, b] = [x[head]!(from!), x[head]!(to!)];
  const [left, width] = [Math.min(a, b), Math.abs(b - a)];
  context.fillStyle = active ? colours.active : colours.ground;
  context.fillRect(left - 1, top, width + 2, y.step());
  if (!active) {
    context.fillStyle = colours.unread;
    context.fillRect(left, top + y.bandwidth() / 2 - 0.5, width, 1);
  }
}

/** Paints everything. */
export function paintSurface(
  context: CanvasRenderingContext2D,
  size: SurfaceSize,
  picture: SurfacePicture,
  colours: SurfaceColours,
): void {
  const { tracks, active } = picture;
  // Made once a picture: a band scale of eighty cylinders costs as much as eighty bars.
  const scales = surfaceScales(size);
  context.fillStyle = colours.ground;
  context.fillRect(0, 0, size.width, size.height);
  const { firstCylinder, lastCylinder } = viewOf(size);
  const tries = new Map(tracks.map((track) => [track.cylinder * 2 + track.head, track.tries]));
  clearTracks(firstCylinder, lastCylinder, size, context, scales, colours, active);
  const plain = picture.overlay.overlay === 'grade';
  const rest: SurfaceBar[] = [];
  // Most sectors of most disks are firm: they go first, without a word to the pen between them.
  context.fillStyle = colours.grades.firm;
  eachBar(tracks, size, tracks, scales, (x, y, width, height, track, mark) => {
    if (plain && mark.grade === 'firm') context.fillRect(x, y, width, height);
    else rest.push(barOf(x, y, width, height, track, mark, size));
  });
  for (const bar of rest)
    paintGrade(context, bar, colours, overlayColour(bar, picture, colours, tries));
}

function clearTracks(
  firstCylinder: number,
  lastCylinder: number,
  size: SurfaceSize,
  context: CanvasRenderingContext2D,
  scales: {
    x: readonly [ScaleLinear<number, number, never>, ScaleLinear<number, number, never>];
    y: ScaleBand<number>;
    half: number;
  },
  colours: SurfaceColours,
  active: SurfacePicture['active'],
) {
  for (let cylinder = firstCylinder; cylinder <= lastCylinder; cylinder++) {
    for (let head = 0; head < size.heads; head++)
      clearTrack(
        context,
        scales,
        colours,
        cylinder,
        head,
        active?.cylinder === cylinder && active.head === head,
      );
  }
}

/** Paints one track anew; the rest stays. */
export function paintTrack(
  context: CanvasRenderingContext2D,
  size: SurfaceSize,
  picture: SurfacePicture,
  colours: SurfaceColours,
  cylinder: number,
  head: number,
): void {
  const { tracks, active } = picture;
  const scales = surfaceScales(size);
  if (scales.y(cylinder) === undefined) return;
  clearTrack(
    context,
    scales,
    colours,
    cylinder,
    head,
    active?.cylinder === cylinder && active.head === head,
  );
  const track = tracks.filter((each) => each.cylinder === cylinder && each.head === head);
  for (const bar of surfaceBars(track, size, tracks, scales))
    paintGrade(context, bar, colours, overlayColour(bar, picture, colours));
}
