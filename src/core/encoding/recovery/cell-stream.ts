/**
 * Cells of a reading as field readers want them: a place that moves on, patterns looked for, words
 * taken.
 */

/** What a field reader needs of a reading under some recovery. */
export interface CellStream {
  /** Place in the reading; only to be given back to `seek`. */
  readonly at: number;
  /** Ticks from the reading's time 0 to this place. */
  readonly time: number;
  /** The last cells before the place that `find` stopped at, newest lowest. */
  readonly register: number;
  seek(at: number, time: number): void;
  /**
   * Goes on to right behind the next cells that equal `pattern` where `mask` is set; false where
   * there are none. Both are below 2^31 and end in a transition.
   */
  find(pattern: number, mask: number): boolean;
  /**
   * Takes up to `length` words of 16 cells from here on; how many there were. Cells left over are
   * for the next call.
   */
  take(words: Uint16Array, length: number): number;
  /**
   * Forgets cells left over: the next word starts with `cells` cells of `prefix`, then what follows
   * the last transition.
   */
  align(prefix: number, cells: number): void;
  /**
   * Ticks taken by the transitions straight before this place whose intervals are among `runs` (a
   * bit each), after passing over `skip` intervals.
   */
  ticksOfRunsBefore(at: number, skip: number, runs: number): number;
}

/** A run that stands for anything too long to belong to a code: readers lose their place there. */
export const LONGEST_RUN = 15;
