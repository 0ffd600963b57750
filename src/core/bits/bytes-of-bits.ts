/** Bytes of bits, each highest bit first; bits that make no whole byte are left out. */
export function bytesOfBits(bits: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(bits.length >> 3);
  for (let i = 0; i < 8 * bytes.length; i++) bytes[i >> 3] = (bytes[i >> 3]! << 1) | bits[i]!;
  return bytes;
}
