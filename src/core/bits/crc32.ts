/** Reflected 32-bit CRCs, sixteen bytes at a step: of a polynomial written backwards. */

/**
 * The register after bytes `from` up to `to`, from `start` on; neither start nor end is inverted
 * here.
 */
type Crc32 = (bytes: Uint8Array, from: number, to: number, start?: number) => number;

export function reflectedCrc32(reversed: number): Crc32 {
  // How far a byte reaches: `t[k * 256 + byte]`, the byte with `k` others behind it.
  const t = new Int32Array(16 * 256);
  for (let byte = 0; byte < 256; byte++) {
    let value = byte;
    for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ reversed : value >>> 1;
    t[byte] = value;
  }
  for (let i = 256; i < t.length; i++) {
    const before = t[i - 256]!;
    t[i] = (before >>> 8) ^ t[before & 0xff]!;
  }
  return (bytes, from, to, start = 0) => {
    let value = start | 0;
    let at = from;
    for (const last = to - 16; at <= last; at += 16) {
      value =
        t[3840 + ((bytes[at]! ^ value) & 0xff)]! ^
        t[3584 + ((bytes[at + 1]! ^ (value >>> 8)) & 0xff)]! ^
        t[3328 + ((bytes[at + 2]! ^ (value >>> 16)) & 0xff)]! ^
        t[3072 + (bytes[at + 3]! ^ (value >>> 24))]! ^
        t[2816 + bytes[at + 4]!]! ^
        t[2560 + bytes[at + 5]!]! ^
        t[2304 + bytes[at + 6]!]! ^
        t[2048 + bytes[at + 7]!]! ^
        t[1792 + bytes[at + 8]!]! ^
        t[1536 + bytes[at + 9]!]! ^
        t[1280 + bytes[at + 10]!]! ^
        t[1024 + bytes[at + 11]!]! ^
        t[768 + bytes[at + 12]!]! ^
        t[512 + bytes[at + 13]!]! ^
        t[256 + bytes[at + 14]!]! ^
        t[bytes[at + 15]!]!;
    }
    for (; at < to; at++) value = (value >>> 8) ^ t[(value ^ bytes[at]!) & 0xff]!;
    return value >>> 0;
  };
}

const ethernet = reflectedCrc32(0xedb88320);
/** As in gzip, ZIP and PNG (ISO 3309): inverted before and after. */
export const crc32 = (bytes: Uint8Array): number =>
  (ethernet(bytes, 0, bytes.length, 0xffffffff) ^ 0xffffffff) >>> 0;
