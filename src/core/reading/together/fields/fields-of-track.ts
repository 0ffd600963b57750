/** Sectors in the account of a track: their marks found in it, their fields read from all turns. */
import { median } from '@/core/bits/median';
import { RUNS, type SectorSighting } from '@/core/encoding';
import type { Belief } from '../../track-sector';

export interface FieldRead extends Pick<
  SectorSighting,
  'c' | 'h' | 'r' | 'n' | 'idExtra' | 'size'
> {
  /** First cell of what belongs to the sector, of its data, and behind its data. */
  from: number;
  dataFrom: number;
  to: number;
  mark: number;
  data: Uint8Array;
  check: number;
  belief: Belief;
  /** Chance that the bytes are others, by the account. */
  wrong: number;
}

/** Cells with a transition, of the first turn and what is read past it. */
export function cellsOfPath(path: { cells: Int32Array }, end: number): Uint8Array {
  const bits = new Uint8Array(end + RUNS.mfm.longest);
  for (const cell of path.cells) if (cell >= 0) bits[cell] = 1;
  return bits;
}

/** Places where a pattern stands with at most `most` cells wrong, none near a better one. */
export function placesOf(cells: Uint8Array, pattern: readonly number[], most: number): number[] {
  const wrong = (from: number): number => {
    let count = 0;
    for (let i = 0; i < pattern.length && count <= most; i++)
      if (cells[from + i] !== pattern[i]) count++;
    return count;
  };
  const found: { at: number; count: number }[] = [];
  for (let at = 0; at + pattern.length <= cells.length; at++) {
    const count = wrong(at);
    if (count > most) continue;
    const last = found[found.length - 1];
    if (last && at - last.at < pattern.length / 2) {
      if (count < last.count) found[found.length - 1] = { at, count };
    } else found.push({ at, count });
  }
  return found.map(({ at }) => at);
}

/** The cells of a number, highest first. */
export const cellsOf = (value: number, width: number): number[] =>
  Array.from({ length: width }, (_, i) => Math.floor(value / 2 ** (width - 1 - i)) & 1);

export const middleOf = (values: readonly number[]): number | null =>
  values.length > 0 ? median(values) : null;
