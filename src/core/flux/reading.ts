/** One reading of one track, as a drive delivers it: transitions as intervals, and index pulses. */

/**
 * Where and how a reading was taken, with its intervals still as LEB128 varints (the container's
 * own form).
 */
export interface TrackReading {
  /** Head position in the drive's own steps, from 0. */
  cylinder: number;
  head: number;
  pass: number;
  /** Index pulses, in ticks from time 0, ascending. */
  index: number[];
  /** Each interval in ticks as unsigned LEB128. */
  flux: Uint8Array;
  /** Keys of the container item that this version does not know, kept as they were. */
  extra?: Record<string, unknown>;
}

/** Intervals unpacked, with where they were damaged. */
export interface Intervals {
  /** Ticks from the transition before; only the first may be 0. Valid up to `count`. */
  ticks: Int32Array;
  count: number;
  /** Positions in `ticks` before which damaged intervals were left out, ascending. */
  breaks: number[];
}

/** Scratch that grows and is used again, so that a whole disk does not allocate per track. */
export class IntervalBuffer {
  // Signed: the engine keeps 32-bit unsigned elements as doubles, which costs a third of the whole
  // decode.
  private ticks = new Int32Array(1 << 17);

  /**
   * Unpacks `flux`. A later interval of 0 ticks, one of more than a second, and an unfinished
   * varint at the end
   * are damage at that point: left out, with a break, and what came before and after is kept.
   * The result is valid until the next call.
   */
  unpack(flux: Uint8Array, tickHz: number): Intervals {
    if (this.ticks.length < flux.length)
      this.ticks = new Int32Array(Math.max(flux.length, this.ticks.length * 2));
    const ticks = this.ticks;
    const breaks: number[] = [];
    const length = flux.length;
    const longest = Math.min(tickHz, LONGEST_INTERVAL) | 0;
    const lastPair = length - 1;
    let count = 0;
    let at = 0;
    while (at < length) {
      // One byte or two, without a branch: which it is can't be predicted, and a wrong guess costs
      // more than the work.
      const first = flux[at]!;
      const second = at < lastPair ? flux[at + 1]! : 0;
      const two = first >>> 7;
      let value = (first & 0x7f) | ((second & 0x7f & -two) << 7);
      if ((first & second & 0x80) !== 0 || (at === lastPair && two === 1)) {
        // Three bytes and more are rare: long dropouts, or damage.
        const end = varintEnd(flux, at);
        value = varintValue(flux, at, end) | 0;
        at = end;
      } else {
        at += 1 + two;
      }
      if ((value === 0 && count > 0) || value < 0 || value > longest) {
        if (breaks[breaks.length - 1] !== count) breaks.push(count);
        continue;
      }
      ticks[count++] = value;
    }
    return { ticks, count, breaks };
  }
}

/** What an interval's slot can hold; a second at 2.1 GHz. */
const LONGEST_INTERVAL = 2 ** 31 - 1;

/** Offset behind the varint whose bytes go on at `at`, or the end of the flux. */
function varintEnd(flux: Uint8Array, at: number): number {
  while (at < flux.length && flux[at]! > 0x7f) at++;
  return Math.min(at + 1, flux.length);
}

/**
 * Value of the varint in [start, end); −1 for one that is unfinished or larger than a slot holds.
 */
function varintValue(flux: Uint8Array, start: number, end: number): number {
  if (flux[end - 1]! > 0x7f || end - start > 5) return -1;
  let value = 0;
  for (let i = end - 1; i >= start; i--) value = value * 128 + (flux[i]! & 0x7f);
  return value > LONGEST_INTERVAL ? -1 : value;
}
