/**
 * The 4-to-5 group code: each nibble as five cells, with at most eight transitions in a row and
 * at most two cells
 * without one (`docs/formats/layouts.md`, "zoned group code").
 */

/** Five cells of each nibble, 0h to Fh. */
export const GROUP_OF_NIBBLE: readonly number[] = Object.freeze([
  0b01010, 0b01011, 0b10010, 0b10011, 0b01110, 0b01111, 0b10110, 0b10111, 0b01001, 0b11001, 0b11010,
  0b11011, 0b01101, 0b11101, 0b11110, 0b10101,
]);

export const CELLS_OF_BYTE = 10;
/** What a pair that is no valid code decodes to. */
const INVALID = 0x100;

/** For ten cells: the byte, or INVALID. */
const BYTE_OF_CELLS = (() => {
  const table = new Uint16Array(1 << CELLS_OF_BYTE).fill(INVALID);
  for (let byte = 0; byte < 256; byte++) table[cellsOfByte(byte)] = byte;
  return table;
})();

/** Ten cells of a byte. */
export function cellsOfByte(byte: number): number {
  return (GROUP_OF_NIBBLE[byte >>> 4]! << 5) | GROUP_OF_NIBBLE[byte & 15]!;
}

/**
 * Decodes `length` bytes from words of 16 cells into `out`; how many pairs were no valid code (they
 * decode to 0).
 */
export function bytesOfWords(words: Uint16Array, out: Uint8Array, length: number): number {
  let cells = 0;
  let held = 0;
  let at = 0;
  let invalid = 0;
  for (let i = 0; i < length; i++) {
    if (held < CELLS_OF_BYTE) {
      cells = ((cells & 0x3ff) << 16) | words[at++]!;
      held += 16;
    }
    held -= CELLS_OF_BYTE;
    const byte = BYTE_OF_CELLS[(cells >>> held) & 0x3ff]!;
    invalid += byte >>> 8;
    out[i] = byte;
  }
  return invalid;
}
