'use client';
/** How long a transfer takes, in words. */

const BITS_A_BYTE = 10;

/** Bytes of a block with what frames it. */
const BLOCK = 133 / 128;

/** How long the line takes for so many bytes, in words. */
export function lasting(bytes: number, rate: number): string {
  const minutes = (bytes * BLOCK * BITS_A_BYTE) / rate / 60;
  return minutes < 1.5
    ? 'about a minute'
    : minutes < 90
      ? `about ${Math.round(minutes)} minutes`
      : `about ${(minutes / 60).toFixed(1)} hours`;
}
