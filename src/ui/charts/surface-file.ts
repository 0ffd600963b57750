/** The surface as a file: PNG as painted, twice as fine, or SVG made of the same bars. */
import type { Grade } from '@/core/reading/grades';
import { surfaceBars, surfaceScales, type SurfaceBar, type SurfaceSize } from './surface-layout';
import {
  overlayColour,
  paintSurface,
  type SurfaceColours,
  type SurfacePicture,
} from './surface-paint';

const FINER = 2;

/** The whole chart as SVG text, with a sentence for each sector that is not firm. */
export function surfaceSvg(
  picture: SurfacePicture,
  size: SurfaceSize,
  colours: SurfaceColours,
): string {
  const { y } = surfaceScales(size);
  const tries = new Map(
    picture.tracks.map((track) => [track.cylinder * 2 + track.head, track.tries]),
  );
  const bars = surfaceBars(picture.tracks, size)
    .filter(({ grade }) => grade !== 'unread')
    .map((bar) => barSvg(bar, colours, overlayColour(bar, picture, colours, tries)));
  const numbers = Array.from({ length: size.cylinders }, (_, cylinder) => cylinder)
    .filter((cylinder) => cylinder % 10 === 0 || cylinder === size.cylinders - 1)
    .map(
      (cylinder) =>
        `<text x="${size.heads > 1 ? size.width / 2 : 20}" ` +
        `y="${(y(cylinder)! + y.bandwidth() / 2 + 4).toFixed(1)}" text-anchor="middle" ` +
        'font-family="sans-serif" font-size="11" ' +
        `fill="${colours.grades.lost}">${cylinder}</text>`,
    );
  const [width, height] = [size.width, size.height + 8];
  return `<svg xmlns="http://www.w3.org/2000/svg"
  width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">
<defs><pattern id="doubtful" width="4" height="4" patternUnits="userSpaceOnUse">
<path d="M-1 1 1-1M0 4 4 0M3 5 5 3" stroke="${colours.grades.doubtful}" stroke-width="1.4"/>
</pattern></defs>
<rect width="100%" height="100%" fill="${colours.ground}"/>
${bars.join('\n')}
${numbers.join('\n')}
</svg>
`;
}

function barSvg(
  { x, y, width, height, grade, cylinder, head, mark, leading }: SurfaceBar,
  colours: SurfaceColours,
  over: string | null,
): string {
  const [left, top, w, h] = [x, y, width, height].map((value) => Number(value.toFixed(2))) as [
    number,
    number,
    number,
    number,
  ];
  const rect = (fill: string, stroke = '') =>
    `<rect x="${left}" y="${top}" width="${w}" height="${h}" ` +
    `fill="${fill}"${stroke && ` stroke="${stroke}"`}/>`;
  const title = `<title>cylinder ${cylinder}, head ${head}, sector ${mark.r}: ${grade}</title>`;
  const colour = colours.grades[grade as Exclude<Grade, 'unread'>];
  switch (grade) {
    case 'firm':
      return rect(over ?? colour);
    case 'mended': {
      const notch = Math.min(h * 1.4, w / 2);
      const points =
        leading === 'left'
          ? [
              [left + notch, top],
              [left + w, top],
              [left + w, top + h],
              [left, top + h],
            ]
          : [
              [left, top],
              [left + w - notch, top],
              [left + w, top + h],
              [left, top + h],
            ];
      return (
        '<polygon ' +
        `points="${points.map(([px, py]) => `${px!.toFixed(2)},${py!.toFixed(2)}`).join(' ')}" ` +
        `fill="${over ?? colour}">${title}</polygon>`
      );
    }
    case 'doubtful':
      return `<g>${title}${over ? rect(over) : ''}${rect('url(#doubtful)', colour)}</g>`;
    default:
      return (
        `<g>${title}${rect(colours.ground, colour)}<rect x="${left}" ` +
        `y="${(top + h / 2 - 0.75).toFixed(2)}" width="${w}" height="1.5" ` +
        `fill="${colour}"/></g>`
      );
  }
}

function save(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export async function saveSurface(
  kind: 'png' | 'svg',
  name: string,
  picture: SurfacePicture,
  size: SurfaceSize,
  colours: SurfaceColours,
): Promise<void> {
  if (kind === 'svg')
    return save(
      new Blob([surfaceSvg(picture, size, colours)], { type: 'image/svg+xml' }),
      `${name}.svg`,
    );
  const canvas = document.createElement('canvas');
  canvas.width = size.width * FINER;
  canvas.height = size.height * FINER;
  const context = canvas.getContext('2d', { alpha: false })!;
  context.setTransform(FINER, 0, 0, FINER, 0, 0);
  paintSurface(context, size, picture, colours);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (blob) save(blob, `${name}.png`);
}
