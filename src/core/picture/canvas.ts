/** Pixels of a picture while it is drawn. */

export interface Picture {
  /** What it was taken for, in a few words. */
  kind: string;
  width: number;
  height: number;
  /** Red, green, blue, alpha, row by row from the top. */
  rgba: Uint8ClampedArray<ArrayBuffer>;
  /** Width of a pixel in heights of one. */
  pixelAspect: number;
  /** The file ended before the picture did. */
  cut: boolean;
}

/** Larger ones are no pictures of old machines, or lie about their size. */
const MAX_PIXELS = 4096 * 4096;
const MAX_SIDE = 16_384;

/** A picture that fits in memory, still transparent; null where its sides make no sense. */
export function canvas(kind: string, width: number, height: number): Picture | null {
  if (
    width < 1 ||
    height < 1 ||
    width > MAX_SIDE ||
    height > MAX_SIDE ||
    width * height > MAX_PIXELS
  )
    return null;
  return {
    kind,
    width,
    height,
    rgba: new Uint8ClampedArray(width * height * 4),
    pixelAspect: 1,
    cut: false,
  };
}

export type Colour = readonly [red: number, green: number, blue: number];

export function setPixel(
  { rgba, width }: Picture,
  x: number,
  y: number,
  [red, green, blue]: Colour,
): void {
  const at = (y * width + x) * 4;
  rgba[at] = red;
  rgba[at + 1] = green;
  rgba[at + 2] = blue;
  rgba[at + 3] = 255;
}
