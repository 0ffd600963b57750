/**
 * Run-length coded paint files: 0Ah, a header of 128 bytes, rows of planes; a byte of C0h and more
 * counts the one that follows.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

const HEADER = 128;
const PALETTE_MARK = 0x0c;

/** Bits of a pixel in a plane, and planes, that were in use. */
const KINDS = ['1/1', '1/2', '1/3', '1/4', '2/1', '4/1', '8/1', '8/3'];

/** Bytes of the rows, one behind the other; what a run leaves over begins the next row. */
class RunReader {
  private at = HEADER;
  private count = 0;
  private value = 0;

  constructor(private readonly bytes: Uint8Array) {}

  /** Fills a row; false where the bytes end before it. */
  fill(row: Uint8Array): boolean {
    for (let i = 0; i < row.length;) {
      if (this.count === 0 && !this.next()) return false;
      const end = Math.min(row.length, i + this.count);
      row.fill(this.value, i, end);
      this.count -= end - i;
      i = end;
    }
    return true;
  }

  private next(): boolean {
    const { bytes } = this;
    if (this.at >= bytes.length) return false;
    const byte = bytes[this.at++]!;
    const isRun = byte >= 0xc0;
    this.count = isRun ? byte & 0x3f : 1;
    this.value = isRun ? (bytes[this.at++] ?? 0) : byte;
    return true;
  }
}

/** The number of a pixel's colour, put together from the planes of a row. */
function indexAt(row: Uint8Array, x: number, bits: number, planes: number): number {
  const stride = row.length / planes;
  const bit = x * bits;
  const shift = 8 - bits - (bit & 7);
  let index = 0;
  for (let plane = 0; plane < planes; plane++) {
    const part = (row[plane * stride + (bit >> 3)]! >> shift) & ((1 << bits) - 1);
    index |= part << (plane * bits);
  }
  return index;
}

export function runLengthPaint(bytes: Uint8Array): Picture | null {
  if (bytes.length <= HEADER || bytes[0] !== 0x0a || bytes[1]! > 5 || bytes[2] !== 1) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const [bits, planes, stride] = [bytes[3]!, bytes[65]!, view.getUint16(66, true)];
  const width = view.getUint16(8, true) - view.getUint16(4, true) + 1;
  const height = view.getUint16(10, true) - view.getUint16(6, true) + 1;
  if (!KINDS.includes(`${bits}/${planes}`) || stride * 8 < width * bits) return null;
  const picture = canvas('run-length paint file', width, height);
  if (!picture) return null;
  const colours = coloursOf(bytes, bits, planes);
  const row = new Uint8Array(stride * planes);
  const reader = new RunReader(bytes);
  const isTrueColour = planes === 3 && bits === 8;
  for (let y = 0; y < height; y++) {
    picture.cut = !reader.fill(row);
    if (picture.cut) break;
    for (let x = 0; x < width; x++) {
      const colour: Colour = isTrueColour
        ? [row[x]!, row[stride + x]!, row[2 * stride + x]!]
        : (colours[indexAt(row, x, bits, planes)] ?? [0, 0, 0]);
      setPixel(picture, x, y, colour);
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
