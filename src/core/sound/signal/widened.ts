/** 16-bit values, least byte first, as 24-bit ones of the same loudness. */
export function widened(bytes: Uint8Array): Uint8Array {
  const count = Math.floor(bytes.length / 2);
  const out = new Uint8Array(3 * count);
  for (let i = 0; i < count; i++) {
    out[3 * i + 1] = bytes[2 * i]!;
    out[3 * i + 2] = bytes[2 * i + 1]!;
  }
  return out;
}
