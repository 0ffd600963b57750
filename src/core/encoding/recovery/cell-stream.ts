/** Cells of a reading as field readers want them: a place that moves on, sync marks looked for, words taken. */

/** What a field reader needs of a reading under some recovery. */
export interface CellStream {
  /** Place in the reading; only to be given back to `seek`. */
  readonly at: number;
  /** Ticks from the reading's time 0 to this place. */
  readonly time: number;
  seek(at: number, time: number): void;
  /** Goes on to right behind the next 16 cells that equal `pattern`; false where there are none. */
  find(pattern: number): boolean;
  /** Takes up to `length` words of 16 cells from here on; how many there were. Cells left over are for the next call. */
  take(words: Uint16Array, length: number): number;
  /** Forgets cells left over: the next word starts right behind the last transition. */
  align(): void;
  /** Ticks taken by the transitions straight before this place whose intervals are `run` cells, after passing over `skip` intervals. */
  ticksOfRunBefore(at: number, skip: number, run: number): number;
}

/** A run that stands for anything too long to belong to a code: readers lose their place there. */
export const LONGEST_RUN = 15;
