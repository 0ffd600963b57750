/** Paints strata on a canvas; grades by lightness and pattern first. */
import { strataBars, strataScales, type StrataBar, type StrataScales, type StrataSize } from './strata-layout';
import type { Grade } from '@/core/reading/grades';
import type { TrackMarks } from '@/core/reading/track-marks';

export interface StrataColours {
  ground: string;
  unread: string;
  active: string;
  grades: Record<Exclude<Grade, 'unread'>, string>;
}

export interface StrataPicture {
  tracks: readonly TrackMarks[];
  /** The track under the head now. */
  active: { cylinder: number; head: number } | null;
}

export function coloursOf(element: Element): StrataColours {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    ground: read('--ground'), unread: read('--unread'), active: read('--oxide'),
    grades: { firm: read('--grade-firm'), mended: read('--grade-mended'), doubtful: read('--grade-doubtful'), lost: read('--grade-lost') },
  };
}

const hatches = new Map<string, CanvasPattern | string>();

/** Slanting lines, made once a colour. */
function hatch(context: CanvasRenderingContext2D, colour: string, ground: string): CanvasPattern | string {
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

function paintBar(context: CanvasRenderingContext2D, bar: StrataBar, colours: StrataColours): void {
  const { x, y, width, height, grade, leading } = bar;
  if (grade === 'unread') return;
  const colour = colours.grades[grade];
  if (grade === 'firm') {
    context.fillStyle = colour;
    context.fillRect(x, y, width, height);
  } else if (grade === 'mended') {
    // The notch lies where the head meets the sector.
    const notch = Math.min(height * 1.4, width / 2);
    context.fillStyle = colour;
    context.beginPath();
    if (leading === 'left') context.moveTo(x + notch, y), context.lineTo(x + width, y), context.lineTo(x + width, y + height), context.lineTo(x, y + height);
    else context.moveTo(x, y), context.lineTo(x + width - notch, y), context.lineTo(x + width, y + height), context.lineTo(x, y + height);
    context.fill();
  } else if (grade === 'doubtful') {
    context.fillStyle = hatch(context, colour, colours.ground);
    context.fillRect(x, y, width, height);
    context.strokeStyle = colour;
    context.lineWidth = 1;
    context.strokeRect(x + 0.5, y + 0.5, width - 1, Math.max(0, height - 1));
  } else {
    context.fillStyle = colours.ground;
    context.fillRect(x, y, width, height);
    context.strokeStyle = colour;
    context.lineWidth = 1;
    context.strokeRect(x + 0.5, y + 0.5, width - 1, Math.max(0, height - 1));
    context.fillStyle = colour;
    context.fillRect(x, y + height / 2 - 0.75, width, 1.5);
  }
}

function clearTrack(context: CanvasRenderingContext2D, { x, y }: StrataScales, colours: StrataColours, cylinder: number, head: number, active: boolean): void {
  const top = y(cylinder)!;
  const [a, b] = [x[head]!(0), x[head]!(1)];
  const [left, width] = [Math.min(a, b), Math.abs(b - a)];
  context.fillStyle = active ? colours.active : colours.ground;
  context.fillRect(left - 1, top, width + 2, y.step());
  if (!active) {
    context.fillStyle = colours.unread;
    context.fillRect(left, top + y.bandwidth() / 2 - 0.5, width, 1);
  }
}

/** Paints everything. */
export function paintStrata(context: CanvasRenderingContext2D, size: StrataSize, { tracks, active }: StrataPicture, colours: StrataColours): void {
  // Made once a picture: a band scale of eighty cylinders costs as much as eighty bars.
  const scales = strataScales(size);
  context.fillStyle = colours.ground;
  context.fillRect(0, 0, size.width, size.height);
  for (let cylinder = 0; cylinder < size.cylinders; cylinder++) {
    for (let head = 0; head < size.heads; head++) clearTrack(context, scales, colours, cylinder, head, active?.cylinder === cylinder && active.head === head);
  }
  for (const bar of strataBars(tracks, size, tracks, scales)) paintBar(context, bar, colours);
}

/** Paints one track anew; the rest stays. */
export function paintTrack(context: CanvasRenderingContext2D, size: StrataSize, { tracks, active }: StrataPicture, colours: StrataColours, cylinder: number, head: number): void {
  const scales = strataScales(size);
  clearTrack(context, scales, colours, cylinder, head, active?.cylinder === cylinder && active.head === head);
  const track = tracks.filter((each) => each.cylinder === cylinder && each.head === head);
  for (const bar of strataBars(track, size, tracks, scales)) paintBar(context, bar, colours);
}
