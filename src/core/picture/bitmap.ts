/**
 * Device-independent bitmaps: `BM`, a header of 12 or of 40 bytes and more, rows from the bottom,
 * 1, 4, 8, 24 or 32 bits a pixel.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

const BLACK: Colour = [0, 0, 0];

const RUNS_8 = 1;
const RUNS_4 = 2;

interface BitmapHeader {
  width: number;
  /** Fewer than none where the first row is the topmost. */
  rows: number;
  bits: number;
  packing: number;
  /** Where the colours begin, and bytes of each. */
  colours: number;
  colourBytes: number;
  start: number;
}

/** Null where it is none, or one that is not drawn here. */
function headerOf(bytes: Uint8Array): BitmapHeader | null {
  if (bytes.length < 26 || bytes[0] !== 0x42 || bytes[1] !== 0x4d) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const headerBytes = view.getUint32(14, true);
  const [colours, start] = [14 + headerBytes, view.getUint32(10, true)];
  if (headerBytes === 12)
    return {
      width: view.getUint16(18, true),
      rows: view.getUint16(20, true),
      bits: view.getUint16(24, true),
      packing: 0,
      colours,
      colourBytes: 3,
      start,
    };
  if (headerBytes < 40 || headerBytes > 124 || bytes.length < 54) return null;
  return {
    width: view.getInt32(18, true),
    rows: view.getInt32(22, true),
    bits: view.getUint16(28, true),
    packing: view.getUint32(30, true),
    colours,
    colourBytes: 4,
    start,
  };
}

function isDrawn({ bits, packing }: BitmapHeader): boolean {
  if (packing === RUNS_8) return bits === 8;
  if (packing === RUNS_4) return bits === 4;
  return packing === 0 && [1, 4, 8, 24, 32].includes(bits);
}

/** The colour of one pixel of a row that begins at `row`. */
function colourAt(
  bytes: Uint8Array,
  row: number,
  x: number,
  bits: number,
  colours: readonly Colour[],
): Colour {
  if (bits > 8) {
    const at = row + x * (bits / 8);
    return [bytes[at + 2]!, bytes[at + 1]!, bytes[at]!];
  }
  const bit = x * bits;
  const index = (bytes[row + (bit >> 3)]! >> (8 - bits - (bit & 7))) & ((1 << bits) - 1);
  return colours[index] ?? BLACK;
}

export function deviceIndependentBitmap(bytes: Uint8Array): Picture | null {
  const header = headerOf(bytes);
  if (!header || !isDrawn(header)) return null;
  const { width, rows, bits, start } = header;
  const picture = canvas('bitmap', width, Math.abs(rows));
  if (!picture) return null;
  const place = (y: number) => (rows < 0 ? y : picture.height - 1 - y);
  const colours = bits > 8 ? [] : paletteAt(bytes, header.colours, header.colourBytes, 1 << bits);
  if (header.packing !== 0) {
    const set = (x: number, y: number, index: number) => {
      if (x < width && y < picture.height) setPixel(picture, x, place(y), colours[index] ?? BLACK);
    };
    picture.cut = !unpackRuns(bytes, start, bits, set);
    return picture;
  }
  const stride = Math.ceil((width * bits) / 32) * 4;
  for (let y = 0; y < picture.height; y++) {
    const row = start + y * stride;
    picture.cut = row + Math.ceil((width * bits) / 8) > bytes.length;
    if (picture.cut) break;
    for (let x = 0; x < width; x++)
      setPixel(picture, x, place(y), colourAt(bytes, row, x, bits, colours));
  }
  return picture;
}

function paletteAt(bytes: Uint8Array, offset: number, step: number, count: number): Colour[] {
  return Array.from(
    { length: count },
    (_, i) =>
      [
        bytes[offset + i * step + 2] ?? 0,
        bytes[offset + i * step + 1] ?? 0,
        bytes[offset + i * step] ?? 0,
      ] as const,
  );
}

/**
 * Pairs of count and colour; a count of 0 ends a row, ends the picture, moves, or begins colours
 * one by one. False where the bytes end first.
 */
function unpackRuns(
  bytes: Uint8Array,
  start: number,
  bits: number,
  put: (x: number, y: number, index: number) => void,
): boolean {
  let [x, y] = [0, 0];
  const half = (byte: number, i: number) =>
    bits === 8 ? byte : i % 2 === 0 ? byte >> 4 : byte & 15;
  for (let at = start; at + 1 < bytes.length; at += 2) {
    const [count, value] = [bytes[at]!, bytes[at + 1]!];
    if (count > 0) {
      for (let i = 0; i < count; i++) put(x++, y, half(value, i));
    } else if (value === 0) {
      x = 0;
      y++;
    } else if (value === 1) {
      return true;
    } else if (value === 2) {
      x += bytes[at + 2] ?? 0;
      y += bytes[at + 3] ?? 0;
      at += 2;
    } else {
      const taken = bits === 8 ? value : Math.ceil(value / 2);
      for (let i = 0; i < value; i++)
        put(x++, y, half(bytes[at + 2 + (bits === 8 ? i : i >> 1)] ?? 0, i));
      at += taken + (taken & 1);
    }
  }
  return false;
}
