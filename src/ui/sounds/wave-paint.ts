/** Paints a sound over its time: its peaks, its loops and ends, what of it is doubtful. */
import type { Heard } from './sound-source';

export interface Stretch {
  from: number;
  to: number;
}

/** Frames a pixel below which each frame is drawn as a point of a line. */
const AS_A_LINE = 1;
const HATCH = 6;

const colour = (canvas: HTMLCanvasElement, name: string): string =>
  getComputedStyle(canvas).getPropertyValue(name);

export function paintWave(canvas: HTMLCanvasElement, heard: Heard, view: Stretch): void {
  const ratio = window.devicePixelRatio || 1;
  const [width, height] = [canvas.clientWidth, canvas.clientHeight];
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const pen = canvas.getContext('2d')!;
  pen.scale(ratio, ratio);
  const x = (frame: number) => ((frame - view.from) / (view.to - view.from)) * width;
  const y = (value: number) => height / 2 - value * (height / 2 - 2);
  const paint = (name: string) => colour(canvas, name);
  pen.fillStyle = paint('--sheet');
  pen.fillRect(0, 0, width, height);
  for (const { startFrame, endFrame, hold } of heard.loops) {
    pen.fillStyle = paint(hold ? '--verdigris-wash' : '--sunk');
    pen.fillRect(x(startFrame), 0, x(endFrame) - x(startFrame), height);
  }
  pen.fillStyle = paint('--line');
  pen.fillRect(0, height / 2, width, 1);
  pen.fillStyle = pen.strokeStyle = paint('--grade-mended');
  const perPixel = (view.to - view.from) / width;
  if (perPixel < AS_A_LINE) paintLine(pen, heard, view, x, y);
  else paintPeaks(pen, heard, perPixel, view.from, width, y);
  pen.strokeStyle = paint('--grade-doubtful');
  for (const { from, to } of heard.doubts)
    hatch(pen, x(from), Math.max(2, x(to) - x(from)), height);
  pen.fillStyle = paint('--ink');
  const isPart = heard.start > 0 || heard.end < heard.values.length - 1;
  if (isPart)
    for (const edge of [heard.start, heard.end + 1]) pen.fillRect(x(edge) - 0.5, 0, 1, height);
}

type Scale = (value: number) => number;

function paintPeaks(
  pen: CanvasRenderingContext2D,
  { peaks, values }: Heard,
  perPixel: number,
  first: number,
  width: number,
  y: Scale,
): void {
  for (let column = 0; column < width; column++) {
    const from = first + column * perPixel;
    if (from >= values.length) break;
    const { least, most } = peaks.between(from, from + perPixel);
    const top = y(most);
    pen.fillRect(column, top, 1, Math.max(1, y(least) - top));
  }
}

function paintLine(
  pen: CanvasRenderingContext2D,
  { values }: Heard,
  view: Stretch,
  x: Scale,
  y: Scale,
): void {
  pen.beginPath();
  const last = Math.min(values.length - 1, Math.ceil(view.to));
  for (let frame = Math.max(0, Math.floor(view.from)); frame <= last; frame++) {
    pen.lineTo(x(frame), y(values[frame]!));
    pen.fillRect(x(frame) - 1, y(values[frame]!) - 1, 2, 2);
  }
  pen.stroke();
}

function hatch(pen: CanvasRenderingContext2D, left: number, width: number, height: number): void {
  pen.save();
  pen.beginPath();
  pen.rect(left, 0, width, height);
  pen.clip();
  pen.beginPath();
  for (let at = left - height; at < left + width; at += HATCH) {
    pen.moveTo(at, height);
    pen.lineTo(at + height, 0);
  }
  pen.stroke();
  pen.restore();
}
