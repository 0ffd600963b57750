/**
 * Keeps copies of short byte runs in large blocks: a typed array with a buffer of its own for
 * each of thousands of
 * sectors costs more than to decode it (a tenth of a clean disk's time, and as much again to
 * collect).
 */

const BLOCK_BYTES = 1 << 18;

export class ByteArena {
  private block = new Uint8Array(0);
  private used = 0;

  /** A copy of `bytes[from..to)`. */
  keep(bytes: Uint8Array, from: number, to: number): Uint8Array {
    const length = Math.max(0, to - from);
    if (this.used + length > this.block.length) {
      this.block = new Uint8Array(Math.max(BLOCK_BYTES, length));
      this.used = 0;
    }
    const copy = this.block.subarray(this.used, this.used + length);
    this.used += length;
    for (let i = 0; i < length; i++) copy[i] = bytes[from + i]!;
    return copy;
  }
}
