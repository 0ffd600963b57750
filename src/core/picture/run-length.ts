/**
 * Run-length coded paint files: 0Ah, a header of 128 bytes, rows of planes; a byte of C0h and more
 * counts the one that follows.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

const HEADER = 128;
const PALETTE_MARK = 0x0c;

export function runLengthPaint(bytes: Uint8Array): Picture | null {
  if (bytes.length <= HEADER || bytes[0] !== 0x0a || bytes[1]! > 5 || bytes[2] !== 1) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [bits, planes, stride] = [bytes[3]!, bytes[65]!, view.getUint16(66, true)];
  const width = view.getUint16(8, true) - view.getUint16(4, true) + 1;
  const height = view.getUint16(10, true) - view.getUint16(6, true) + 1;
  const kinds = [
    [1, 1],
    [1, 2],
    [1, 3],
    [1, 4],
    [2, 1],
    [4, 1],
    [8, 1],
    [8, 3],
  ];
  const picture =
    kinds.some(([b, p]) => b === bits && p === planes) && stride * 8 >= width * bits
      ? canvas('run-length paint file', width, height)
      : null;
  if (!picture) return null;
  const colours = coloursOf(bytes, bits, planes);
  const row = new Uint8Array(stride * planes);
  let at = HEADER;
  // What a run leaves over begins the next row.
  let [count, value] = [0, 0];
  for (let y = 0; y < height; y++) {
    for (let i = 0; i < row.length; count--) {
      if (count === 0) {
        if (at >= bytes.length) {
          picture.cut = true;
          return picture;
        }
        const byte = bytes[at++]!;
        count = byte >= 0xc0 ? byte & 0x3f : 1;
        value = byte >= 0xc0 ? (bytes[at++] ?? 0) : byte;
        if (count === 0) {
          count = 1;
          continue;
        }
      }
      row[i++] = value;
    }
    for (let x = 0; x < width; x++) {
      if (planes === 3 && bits === 8) {
        setPixel(picture, x, y, [row[x]!, row[stride + x]!, row[2 * stride + x]!]);
        continue;
      }
      const bit = x * bits;
      let index = 0;
      for (let plane = 0; plane < planes; plane++)
        index |=
          ((row[plane * stride + (bit >> 3)]! >> (8 - bits - (bit & 7))) & ((1 << bits) - 1)) <<
          (plane * bits);
      setPixel(picture, x, y, colours[index] ?? [0, 0, 0]);
    }
  }
  return picture;
}

function coloursOf(bytes: Uint8Array, bits: number, planes: number): Colour[] {
  if (bits * planes === 1)
    return [
      [0, 0, 0],
      [255, 255, 255],
    ];
  const tail = bytes.length - 769;
  const at = bits === 8 && tail >= HEADER && bytes[tail] === PALETTE_MARK ? tail + 1 : 16;
  const count = at === 16 ? 16 : 256;
  if (bits === 8 && at === 16) return Array.from({ length: 256 }, (_, i) => [i, i, i] as const);
  return Array.from(
    { length: count },
    (_, i) => [bytes[at + 3 * i]!, bytes[at + 3 * i + 1]!, bytes[at + 3 * i + 2]!] as const,
  );
}
