/** The check sum behind a zlib stream (RFC 1950). */

const MODULUS = 65_521;
/** So many bytes can be summed up before 32 bits run over. */
const AT_ONCE = 5552;

export function adler32(bytes: Uint8Array): number {
  let [low, high] = [1, 0];
  for (let from = 0; from < bytes.length; from += AT_ONCE) {
    const to = Math.min(bytes.length, from + AT_ONCE);
    for (let at = from; at < to; at++) {
      low += bytes[at]!;
      high += low;
    }
    low %= MODULUS;
    high %= MODULUS;
  }
  return ((high << 16) | low) >>> 0;
}
