/**
 * The 64 disk bytes of the 6-and-2 group code, and 256 bytes as 342 six-bit values
 * (`docs/formats/layouts.md`, "6-and-2 group code").
 */

/** Disk bytes of the values 0 to 63. */
export const DISK_BYTES: readonly number[] = Object.freeze([
  0x96, 0x97, 0x9a, 0x9b, 0x9d, 0x9e, 0x9f, 0xa6, 0xa7, 0xab, 0xac, 0xad, 0xae, 0xaf, 0xb2, 0xb3,
  0xb4, 0xb5, 0xb6, 0xb7, 0xb9, 0xba, 0xbb, 0xbc, 0xbd, 0xbe, 0xbf, 0xcb, 0xcd, 0xce, 0xcf, 0xd3,
  0xd6, 0xd7, 0xd9, 0xda, 0xdb, 0xdc, 0xdd, 0xde, 0xdf, 0xe5, 0xe6, 0xe7, 0xe9, 0xea, 0xeb, 0xec,
  0xed, 0xee, 0xef, 0xf2, 0xf3, 0xf4, 0xf5, 0xf6, 0xf7, 0xf9, 0xfa, 0xfb, 0xfc, 0xfd, 0xfe, 0xff,
]);

/** What a byte that is no disk byte stands for. */
export const INVALID = 0x40;

/** For each byte its value, or INVALID. */
export const VALUE_OF_DISK_BYTE = (() => {
  const table = new Uint8Array(256).fill(INVALID);
  for (const [value, byte] of DISK_BYTES.entries()) table[byte] = value;
  return table;
})();

export const DATA_BYTES = 256;
const SECONDARY = 86;
/** Values of a sector, without the check. */
export const VALUES = SECONDARY + DATA_BYTES;

const SWAPPED = [0, 2, 1, 3];

/** 342 values, the secondary ones first, of 256 bytes. */
export function valuesOfBytes(data: Uint8Array): Uint8Array {
  const values = new Uint8Array(VALUES);
  for (let i = 0; i < DATA_BYTES; i++) {
    values[SECONDARY + i] = data[i]! >>> 2;
    values[i % SECONDARY]! |= SWAPPED[data[i]! & 3]! << (2 * Math.floor(i / SECONDARY));
  }
  return values;
}

/** 256 bytes of 342 values, into `out`. */
export function bytesOfValuesInto(values: Uint8Array, out: Uint8Array): void {
  for (let part = 0, i = 0, shift = 0; part < 3; part++, shift += 2) {
    for (let secondary = 0; secondary < SECONDARY && i < DATA_BYTES; secondary++, i++) {
      out[i] = (values[SECONDARY + i]! << 2) | SWAPPED[(values[secondary]! >>> shift) & 3]!;
    }
  }
}
