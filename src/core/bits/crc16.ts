/**
 * CRC-16 of ID and data fields: polynomial 1021h, initial FFFFh, not reflected, no final XOR
 * (ECMA-78, ECMA-99 and ECMA-100, the clause on error detection characters).
 */

const POLYNOMIAL = 0x1021;

const TABLE = /* generated once */ (() => {
  const table = new Uint16Array(256);
  for (let byte = 0; byte < 256; byte++) {
    let crc = byte << 8;
    for (let bit = 0; bit < 8; bit++) crc = crc & 0x8000 ? (crc << 1) ^ POLYNOMIAL : crc << 1;
    table[byte] = crc;
  }
  return table;
})();

/** The register before the first byte. */
export const CRC16_INITIAL = 0xffff;

/** Continues `crc` over `bytes[start..end)`. A field followed by its own CRC gives 0. */
export function crc16(
  bytes: Uint8Array,
  start = 0,
  end = bytes.length,
  crc = CRC16_INITIAL,
): number {
  for (let i = start; i < end; i++) crc = ((crc << 8) & 0xffff) ^ TABLE[(crc >>> 8) ^ bytes[i]!]!;
  return crc;
}
