/**
 * Device-independent bitmaps: `BM`, a header of 12 or of 40 bytes and more, rows from the bottom,
 * 1, 4, 8, 24 or 32 bits a pixel.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

const RUNS_8 = 1;
const RUNS_4 = 2;

export function deviceIndependentBitmap(bytes: Uint8Array): Picture | null {
  if (bytes.length < 26 || bytes[0] !== 0x42 || bytes[1] !== 0x4d) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const headerBytes = view.getUint32(14, true);
  const old = headerBytes === 12;
  if (!old && (headerBytes < 40 || headerBytes > 124 || bytes.length < 54)) return null;
  const width = old ? view.getUint16(18, true) : view.getInt32(18, true);
  const rows = old ? view.getUint16(20, true) : view.getInt32(22, true);
  const bits = view.getUint16(old ? 24 : 28, true);
  const packing = old ? 0 : view.getUint32(30, true);
  if (
    ![1, 4, 8, 24, 32].includes(bits) ||
    !(packing === 0 || (packing === RUNS_8 && bits === 8) || (packing === RUNS_4 && bits === 4))
  )
    return null;
  const picture = canvas('bitmap', width, Math.abs(rows));
  if (!picture) return null;
  const place = (y: number) => (rows < 0 ? y : picture.height - 1 - y);
  const colours = bits > 8 ? [] : paletteAt(bytes, 14 + headerBytes, old ? 3 : 4, 1 << bits);
  const start = view.getUint32(10, true);
  if (packing !== 0) {
    picture.cut = !unpackRuns(
      bytes,
      start,
      bits,
      (x, y, index) =>
        x < width &&
        y < picture.height &&
        setPixel(picture, x, place(y), colours[index] ?? [0, 0, 0]),
    );
    return picture;
  }
  const stride = Math.ceil((width * bits) / 32) * 4;
  for (let y = 0; y < picture.height; y++) {
    const row = start + y * stride;
    if (row + Math.ceil((width * bits) / 8) > bytes.length) {
      picture.cut = true;
      break;
    }
    for (let x = 0; x < width; x++) {
      if (bits > 8) {
        const at = row + x * (bits / 8);
        setPixel(picture, x, place(y), [bytes[at + 2]!, bytes[at + 1]!, bytes[at]!]);
      } else {
        const bit = x * bits;
        setPixel(
          picture,
          x,
          place(y),
          colours[(bytes[row + (bit >> 3)]! >> (8 - bits - (bit & 7))) & ((1 << bits) - 1)] ?? [
            0, 0, 0,
          ],
        );
      }
    }
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
