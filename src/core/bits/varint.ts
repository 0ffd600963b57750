/**
 * Unsigned LEB128 (DWARF 5, section 7.6): seven bits a byte, least significant first, top bit =
 * more follow.
 */

/**
 * Writes `value` (0 … 2^53−1) at `at`; returns the offset behind it. `out` must have eight bytes
 * left.
 */
export function writeUleb128Into(out: Uint8Array, at: number, value: number): number {
  while (value > 0x7f) {
    out[at++] = (value & 0x7f) | 0x80;
    // Not >>>: a value may pass 32 bits.
    value = Math.floor(value / 128);
  }
  out[at++] = value;
  return at;
}

/** Encodes the values one after another. */
export function encodeUleb128(values: ArrayLike<number>): Uint8Array {
  const out = new Uint8Array(values.length * 8);
  let at = 0;
  for (let i = 0; i < values.length; i++) at = writeUleb128Into(out, at, values[i]!);
  return out.slice(0, at);
}
