/**
 * Clock recovery for clean tracks, straight from a container's varints: each interval is divided
 * by the cell length of
 * the moment and rounded, in fixed point, and the cell is fitted again every few dozen intervals.
 * One pass, no arrays
 * between (three passes took twice the time). It follows slow change; a disturbed track is for
 * `loop.ts`.
 */
import type { CellStream } from './cell-stream';

/**
 * Bytes between two fits of the cell, some 64 intervals; and the ticks and cells that are too few
 * for one.
 */
const BLOCK_BYTES = 96;
const TOO_FEW = 64;
/** How far the cell may go from where it started, as a share. */
const MAX_DRIFT = 0.12;
/** How far it may go in one block: 1/64. */
const STEP_SHIFT = 6;
const FRACTION_BITS = 16;
const HALF = 1 << (FRACTION_BITS - 1);
/** Zeros behind the flux, so that a pair can always be looked at. */
const PADDING = 16;

export class SteppedStream implements CellStream {
  at = 0;
  time = 0;
  register = 0;
  private bytes = new Uint8Array(1 << 18);
  private end = 0;
  /** Cells a tick, in fixed point, and its bounds. */
  private inverse = 1;
  private least = 1;
  private most = 1;
  private longest = 1;
  /**
   * All of the code's intervals fit one byte: they are taken four at a time, without looking for a
   * second byte.
   */
  private narrow = false;
  private pending = 0;
  private pendingCells = 0;

  /**
   * Starts on a reading whose cell is about `cell` ticks, of a code whose longest run is
   * `longestRun` cells.
   */
  open(flux: Uint8Array, tickHz: number, cell: number, longestRun: number): void {
    if (this.bytes.length < flux.length + PADDING)
      this.bytes = new Uint8Array(2 * flux.length + PADDING);
    this.bytes.set(flux);
    let end = flux.length;
    // An unfinished varint at the end is no interval.
    while (end > 0 && flux[end - 1]! > 0x7f) end--;
    this.bytes.fill(0, end, end + PADDING);
    this.end = end;
    this.longest = tickHz;
    this.narrow = (longestRun + 0.3) * cell * (1 + MAX_DRIFT / 2) < 0x80;
    this.inverse = Math.round(2 ** FRACTION_BITS / cell) | 0;
    this.least = Math.round(this.inverse * (1 - MAX_DRIFT)) | 0;
    this.most = Math.round(this.inverse * (1 + MAX_DRIFT)) | 0;
    this.seek(0, 0);
  }

  seek(at: number, time: number): void {
    this.at = at;
    this.time = time;
    this.align(0, 0);
  }

  align(prefix: number, cells: number): void {
    this.pending = prefix;
    this.pendingCells = cells;
  }

  find(pattern: number, mask: number): boolean {
    return this.narrow ? this.findNarrow(pattern, mask) : this.findWide(pattern, mask);
  }

  private findNarrow(pattern: number, mask: number): boolean {
    const { bytes, end } = this;
    let at = this.at;
    let register = 0;
    while (at < end) {
      const inverse = this.inverse;
      const stop = Math.min(at + BLOCK_BYTES, end);
      let blockTicks = 0;
      let blockCells = 0;
      while (at < stop) {
        const ticks = bytes[at]!;
        if (ticks > 0x7f) {
          at = this.passOne(at);
          register = 0;
          continue;
        }
        const run = (Math.imul(ticks, inverse) + HALF) >> FRACTION_BITS;
        at = (at + 1) | 0;
        blockTicks = (blockTicks + ticks) | 0;
        blockCells = (blockCells + run) | 0;
        register = (register << run) | 1;
        if ((register & mask) === pattern) {
          this.register = register;
          this.at = at;
          this.time += blockTicks;
          return true;
        }
      }
      this.time += blockTicks;
      this.fit(blockTicks, blockCells);
    }
    this.at = end;
    return false;
  }

  private findWide(pattern: number, mask: number): boolean {
    const { bytes, end } = this;
    let at = this.at;
    let register = 0;
    while (at < end) {
      const inverse = this.inverse;
      const stop = Math.min(at + BLOCK_BYTES, end);
      let blockTicks = 0;
      let blockCells = 0;
      // One byte or two, without a branch: which it is can't be guessed, and guessing wrong costs
      // more than the work.
      // Two intervals a turn of the loop: a third of the time is the loop itself.
      while (at < stop) {
        const first = bytes[at]!;
        const firstMore = bytes[at + 1]!;
        const firstTwo = first >>> 7;
        const next = (at + 1 + firstTwo) | 0;
        const second = bytes[next]!;
        const secondMore = bytes[next + 1]!;
        const secondTwo = second >>> 7;
        if ((((first & firstMore) | (second & secondMore)) & 0x80) !== 0) {
          at = this.passOne(at);
          register = 0;
          continue;
        }
        const firstTicks = (first & 0x7f) | ((firstMore & 0x7f & -firstTwo) << 7);
        const secondTicks = (second & 0x7f) | ((secondMore & 0x7f & -secondTwo) << 7);
        const firstRun = (Math.imul(firstTicks, inverse) + HALF) >> FRACTION_BITS;
        const secondRun = (Math.imul(secondTicks, inverse) + HALF) >> FRACTION_BITS;
        register = (register << firstRun) | 1;
        if ((register & mask) === pattern) {
          this.register = register;
          this.at = next;
          this.time += blockTicks + firstTicks;
          return true;
        }
        at = (next + 1 + secondTwo) | 0;
        blockTicks = (blockTicks + firstTicks + secondTicks) | 0;
        blockCells = (blockCells + firstRun + secondRun) | 0;
        register = (register << secondRun) | 1;
        if ((register & mask) === pattern) {
          this.register = register;
          this.at = Math.min(at, end);
          this.time += blockTicks;
          return true;
        }
      }
      this.time += blockTicks;
      this.fit(blockTicks, blockCells);
    }
    this.at = end;
    return false;
  }

  take(words: Uint16Array, length: number): number {
    return this.narrow ? this.takeNarrow(words, length) : this.takeWide(words, length);
  }

  /**
   * Four intervals of one byte a turn of the loop, which fill one word at the most; measured a
   * third faster than two that may be longer.
   */
  private takeNarrow(words: Uint16Array, length: number): number {
    const { bytes, end } = this;
    words.fill(0, 0, length);
    let at = this.at;
    let pending = this.pending;
    let pendingCells = this.pendingCells;
    let word = 0;
    while (word < length && at < end) {
      const inverse = this.inverse;
      const stop = Math.min(at + BLOCK_BYTES, end);
      let blockTicks = 0;
      let blockCells = 0;
      while (at < stop && word < length) {
        const a = bytes[at]!;
        const b = bytes[at + 1]!;
        const c = bytes[at + 2]!;
        const d = bytes[at + 3]!;
        if (((a | b | c | d) & 0x80) !== 0 || at + 4 > end) {
          // One by one past what is longer, or to the end.
          if (a > 0x7f) {
            at = this.passOne(at);
            word = (word + 1) | 0;
            continue;
          }
          const run = (Math.imul(a, inverse) + HALF) >> FRACTION_BITS;
          at = (at + 1) | 0;
          blockTicks = (blockTicks + a) | 0;
          blockCells = (blockCells + run) | 0;
          pending = (pending << run) | 1;
          pendingCells = (pendingCells + run) | 0;
        } else {
          const runA = (Math.imul(a, inverse) + HALF) >> FRACTION_BITS;
          const runB = (Math.imul(b, inverse) + HALF) >> FRACTION_BITS;
          const runC = (Math.imul(c, inverse) + HALF) >> FRACTION_BITS;
          const runD = (Math.imul(d, inverse) + HALF) >> FRACTION_BITS;
          const all = (runA + runB + runC + runD) | 0;
          at = (at + 4) | 0;
          blockTicks = (blockTicks + a + b + c + d) | 0;
          blockCells = (blockCells + all) | 0;
          pending = (((((((pending << runA) | 1) << runB) | 1) << runC) | 1) << runD) | 1;
          pendingCells = (pendingCells + all) | 0;
        }
        words[word] = pending >>> (pendingCells & 15);
        word = (word + (pendingCells >>> 4)) | 0;
        pendingCells &= 15;
      }
      this.time += blockTicks;
      this.fit(blockTicks, blockCells);
    }
    this.at = Math.min(at, end);
    this.pending = pending;
    this.pendingCells = pendingCells;
    return Math.min(word, length);
  }

  private takeWide(words: Uint16Array, length: number): number {
    const { bytes, end } = this;
    // A run too long skips words; nothing of an earlier field may show there.
    words.fill(0, 0, length);
    let at = this.at;
    let pending = this.pending;
    let pendingCells = this.pendingCells;
    let word = 0;
    while (word < length && at < end) {
      const inverse = this.inverse;
      const stop = Math.min(at + BLOCK_BYTES, end);
      let blockTicks = 0;
      let blockCells = 0;
      while (at < stop && word < length) {
        const first = bytes[at]!;
        const firstMore = bytes[at + 1]!;
        const firstTwo = first >>> 7;
        const next = (at + 1 + firstTwo) | 0;
        const second = bytes[next]!;
        const secondMore = bytes[next + 1]!;
        const secondTwo = second >>> 7;
        if ((((first & firstMore) | (second & secondMore)) & 0x80) !== 0) {
          at = this.passOne(at);
          word = (word + 1) | 0;
          continue;
        }
        at = (next + 1 + secondTwo) | 0;
        const firstTicks = (first & 0x7f) | ((firstMore & 0x7f & -firstTwo) << 7);
        const secondTicks = (second & 0x7f) | ((secondMore & 0x7f & -secondTwo) << 7);
        const firstRun = (Math.imul(firstTicks, inverse) + HALF) >> FRACTION_BITS;
        const secondRun = (Math.imul(secondTicks, inverse) + HALF) >> FRACTION_BITS;
        const both = (firstRun + secondRun) | 0;
        blockTicks = (blockTicks + firstTicks + secondTicks) | 0;
        blockCells = (blockCells + both) | 0;
        // The word is stored each time and kept only when its 16 cells are full: no branch to
        // guess.
        pending = (((pending << firstRun) | 1) << secondRun) | 1;
        pendingCells = (pendingCells + both) | 0;
        words[word] = pending >>> (pendingCells & 15);
        word = (word + (pendingCells >>> 4)) | 0;
        pendingCells &= 15;
      }
      this.time += blockTicks;
      this.fit(blockTicks, blockCells);
    }
    // A field may end within a pair: its last transition is then a little further on.
    this.at = Math.min(at, end);
    this.pending = pending;
    this.pendingCells = pendingCells;
    return Math.min(word, length);
  }

  ticksOfRunsBefore(at: number, skip: number, runs: number): number {
    const { bytes, inverse } = this;
    let ticks = 0;
    for (let passed = 0; at > 0; passed++) {
      let start = at - 1;
      let value = bytes[start]!;
      while (start > 0 && bytes[start - 1]! > 0x7f) value = value * 128 + (bytes[--start]! & 0x7f);
      if (
        passed >= skip &&
        ((runs >>> Math.min(31, (Math.imul(value, inverse) + HALF) >> FRACTION_BITS)) & 1) === 0
      )
        break;
      ticks += value;
      at = start;
    }
    return ticks;
  }

  /**
   * Passes over one interval where a long one is near: the place is lost there. One of more than
   * a second is damage
   * and takes no time.
   */
  private passOne(at: number): number {
    const { bytes } = this;
    let value = 0;
    let scale = 1;
    for (; bytes[at]! > 0x7f; scale *= 128) value += (bytes[at++]! & 0x7f) * scale;
    value += bytes[at++]! * scale;
    if (value <= this.longest) this.time += value;
    return at;
  }

  /** Moves half the way to what the block says, within bounds. */
  private fit(blockTicks: number, blockCells: number): void {
    if (blockCells < TOO_FEW || blockTicks < TOO_FEW) return;
    const { inverse } = this;
    const most = inverse >> STEP_SHIFT;
    const step = ((((blockCells << FRACTION_BITS) / blockTicks) | 0) - inverse) >> 1;
    const moved = (inverse + (step > most ? most : step < -most ? -most : step)) | 0;
    this.inverse = moved < this.least ? this.least : moved > this.most ? this.most : moved;
  }
}
