/**
 * A plan of the north mole, drawn in sixteen colours: a device-independent bitmap of 4 bits a
 * pixel.
 */

const WIDTH = 320;
const HEIGHT = 200;
const PALETTE = [
  [20, 24, 40],
  [36, 62, 96],
  [58, 92, 128],
  [92, 128, 156],
  [214, 202, 170],
  [168, 148, 110],
  [110, 92, 66],
  [236, 232, 220],
  [140, 58, 28],
  [196, 108, 60],
  [230, 190, 90],
  [44, 106, 96],
  [80, 80, 84],
  [120, 120, 124],
  [170, 170, 172],
  [255, 255, 255],
] as const;

/** Land from the shore down: sand, grass, the road. */
const landAt = (beyond: number): number => (beyond > 18 ? 6 : beyond > 6 ? 5 : 4);

/** The light with its two rings; null beside them. */
function lightAt(away: number): number | null {
  if (away < 7) return away < 3 ? 15 : 8;
  return Math.abs(away - 26) < 0.8 || Math.abs(away - 44) < 0.8 ? 10 : null;
}

/** The mole, a bent wall with a paler crown; null beside it. */
function moleAt(x: number, y: number): number | null {
  const along = (x - 60) / 180;
  const off = Math.abs(y - (142 - 70 * along - 18 * Math.sin(along * Math.PI)));
  if (x < 60 || x > 240 || off >= 5) return null;
  return off < 3.5 ? 14 : 12;
}

/** Which colour stands at a place: sea by its depth, shore, mole, light and soundings. */
function colourAt(x: number, y: number): number {
  const shore = 150 + 16 * Math.sin(x / 37) + 6 * Math.sin(x / 11);
  if (y > shore) return landAt(y - shore);
  const built = moleAt(x, y) ?? lightAt(Math.hypot(x - 243, y - 71));
  if (built !== null) return built;
  if (x % 32 === 16 && y % 24 === 12) return 7;
  const depth = (shore - y) / 150 + 0.08 * Math.sin(x / 19 + y / 13);
  return depth < 0.12 ? 3 : depth < 0.4 ? 2 : depth < 0.75 ? 1 : 0;
}

export function molePlan(): Uint8Array {
  const start = 54 + 64;
  const bytes = new Uint8Array(start + (WIDTH / 2) * HEIGHT);
  const view = new DataView(bytes.buffer);
  bytes.set([0x42, 0x4d]);
  for (const [at, value] of [
    [2, bytes.length],
    [10, start],
    [14, 40],
    [18, WIDTH],
    [22, HEIGHT],
    [34, bytes.length - start],
    [46, 16],
  ] as const)
    view.setUint32(at, value, true);
  view.setUint16(26, 1, true);
  view.setUint16(28, 4, true);
  PALETTE.forEach(([red, green, blue], i) => bytes.set([blue, green, red, 0], 54 + 4 * i));
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x += 2)
      bytes[start + (HEIGHT - 1 - y) * (WIDTH / 2) + x / 2] =
        (colourAt(x, y) << 4) | colourAt(x + 1, y);
  return bytes;
}
