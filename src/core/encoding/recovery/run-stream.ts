/**
 * A reading whose intervals were already turned into runs of cells by one of the dearer recoveries.
 */
import type { Intervals } from '../../flux/reading';
import type { CellStream } from './cell-stream';

export class RunStream implements CellStream {
  at = 0;
  time = 0;
  register = 0;
  private runs = new Uint8Array(1 << 17);
  private ticks: Int32Array = new Int32Array(0);
  private count = 0;
  private pending = 0;
  private pendingCells = 0;

  /**
   * Starts on these intervals; gives the array that the recovery fills with one run an interval.
   */
  open(intervals: Intervals): Uint8Array {
    if (this.runs.length < intervals.count) this.runs = new Uint8Array(2 * intervals.count);
    this.ticks = intervals.ticks;
    this.count = intervals.count;
    this.seek(0, 0);
    return this.runs;
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
    const { runs, ticks, count } = this;
    let register = 0;
    while (this.at < count) {
      register = (register << runs[this.at]!) | 1;
      this.time += ticks[this.at]!;
      this.at++;
      if ((register & mask) === pattern) {
        this.register = register;
        return true;
      }
    }
    return false;
  }

  take(words: Uint16Array, length: number): number {
    const { runs, ticks, count } = this;
    // A run too long skips words; nothing of an earlier field may show there.
    words.fill(0, 0, length);
    let word = 0;
    while (word < length && this.at < count) {
      const run = runs[this.at]!;
      this.time += ticks[this.at]!;
      this.at++;
      this.pending = (this.pending << run) | 1;
      this.pendingCells += run;
      words[word] = this.pending >>> (this.pendingCells & 15);
      word += this.pendingCells >>> 4;
      this.pendingCells &= 15;
    }
    return Math.min(word, length);
  }

  ticksOfRunsBefore(at: number, skip: number, runs: number): number {
    let ticks = 0;
    for (let passed = 0; at > 0; passed++) {
      at--;
      if (passed >= skip && ((runs >>> this.runs[at]!) & 1) === 0) break;
      ticks += this.ticks[at]!;
    }
    return ticks;
  }
}
