/**
 * Screens saved as they stood in memory, told by their length and by what kind of disk they are on:
 * nothing in them says what they are.
 */
import { canvas, setPixel, type Colour, type Picture } from './canvas';

/** Sixteen colours of the `.d64` family's machines, as their signal is commonly reproduced. */
const SIXTEEN: readonly Colour[] = [
  [0, 0, 0],
  [255, 255, 255],
  [129, 51, 56],
  [117, 206, 200],
  [142, 60, 151],
  [86, 172, 77],
  [46, 44, 155],
  [237, 241, 113],
  [142, 80, 41],
  [85, 56, 0],
  [196, 108, 113],
  [74, 74, 74],
  [123, 123, 123],
  [169, 255, 159],
  [112, 109, 235],
  [178, 178, 178],
];
const DARK: Colour = [0, 0, 0];
const LIGHT: Colour = [255, 255, 255];

export function screenMemory(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Picture | null {
  if (/^d(64|71|81)$/.test(filesystem) && type === 'PRG') return cellScreen(bytes);
  // Saved with or without the eight bytes that no row uses.
  if (
    (filesystem === 'catalogue16' && type === 'B') ||
    (filesystem === 'prodos' && (type === '06' || type === '08'))
  )
    return bytes.length >= 8184 && bytes.length <= 8192 ? interleavedRows(bytes) : null;
  // Five bytes of header and five at the end frame a memory dump.
  return filesystem === 'granule' && type === '2' && bytes.length === 6144 + 10 && bytes[0] === 0
    ? plainRows(bytes.subarray(5, 5 + 6144))
    : null;
}

const WIDE_BYTES = 10_003;
const NARROW_BYTES = [9_002, 9_003, 8_002];

/**
 * Cells of 8 × 8, forty a row, behind a load address: with one colour pair a cell, or with four
 * colours and pixels twice as wide.
 */
function cellScreen(bytes: Uint8Array): Picture | null {
  const load = bytes[0]! | (bytes[1]! << 8);
  if ((load & 0x1fff) !== 0) return null;
  if (bytes.length === WIDE_BYTES) return wideCells(bytes);
  return NARROW_BYTES.includes(bytes.length) ? narrowCells(bytes) : null;
}

/** The byte of a pixel's row in its cell, and the cell's pair of colours. */
function cellAt(bytes: Uint8Array, column: number, y: number) {
  const cell = (y >> 3) * 40 + column;
  return { cell, byte: bytes[2 + cell * 8 + (y & 7)]!, pair: bytes[8002 + cell] ?? 0x10 };
}

function wideCells(bytes: Uint8Array): Picture {
  const picture = canvas('screen of 160 × 200, four colours a cell', 160, 200)!;
  picture.pixelAspect = 2;
  for (let y = 0; y < 200; y++)
    for (let x = 0; x < 160; x++) {
      const { cell, byte, pair } = cellAt(bytes, x >> 2, y);
      const four = [bytes[10_002]! & 15, pair >> 4, pair & 15, bytes[9002 + cell]! & 15];
      setPixel(picture, x, y, SIXTEEN[four[(byte >> (6 - 2 * (x & 3))) & 3]!]!);
    }
  return picture;
}

function narrowCells(bytes: Uint8Array): Picture {
  const picture = canvas('screen of 320 × 200', 320, 200)!;
  picture.pixelAspect = 1;
  for (let y = 0; y < 200; y++)
    for (let x = 0; x < 320; x++) {
      const { byte, pair } = cellAt(bytes, x >> 3, y);
      setPixel(picture, x, y, SIXTEEN[(byte >> (7 - (x & 7))) & 1 ? pair >> 4 : pair & 15]!);
    }
  return picture;
}

/** 280 × 192: seven pixels a byte from the lowest bit, rows in three groups of eight by eight. */
function interleavedRows(bytes: Uint8Array): Picture {
  const picture = canvas('screen of 280 × 192', 280, 192)!;
  for (let y = 0; y < 192; y++) {
    const row = (y & 7) * 1024 + ((y >> 3) & 7) * 128 + (y >> 6) * 40;
    for (let x = 0; x < 280; x++)
      setPixel(picture, x, y, (bytes[row + Math.floor(x / 7)]! >> (x % 7)) & 1 ? LIGHT : DARK);
  }
  return picture;
}

/** 256 × 192, eight pixels a byte from the top bit. */
function plainRows(bytes: Uint8Array): Picture {
  const picture = canvas('screen of 256 × 192', 256, 192)!;
  for (let y = 0; y < 192; y++)
    for (let x = 0; x < 256; x++)
      setPixel(picture, x, y, (bytes[y * 32 + (x >> 3)]! >> (7 - (x & 7))) & 1 ? LIGHT : DARK);
  return picture;
}
