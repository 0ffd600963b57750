/** Places and marks of the .d64 family's directory and map. */

export const SECTOR = 256;

export const PARTITION = 5;

export function ones(bytes: Uint8Array): number {
  let count = 0;
  for (const byte of bytes) for (let bits = byte; bits; bits &= bits - 1) count++;
  return count;
}
