/**
 * The plain vote of the turns: a cell has a transition where most of the turns that are trusted
 * there have one. It knows no model, and so does not err with one.
 */
import type { TrackModel } from './track-model';
import { STEP } from './garbage-chain';
import type { CountedTurn } from './cell-metric';

/** Two turns that agree may agree on what is wrong. */
const LEAST_VOTERS = 3;

/** Cells of the track by the vote; −1 where fewer than three turns have a say. */
export function votedCells(
  turns: readonly CountedTurn[],
  { garbage }: TrackModel,
  end: number,
): Int8Array {
  const votes = new Float32Array(end);
  const voters = new Uint8Array(end);
  for (const [turn, { places, from, to }] of turns.entries()) {
    const trust = garbage[turn]!.map((doubt) => Math.max(0, 1 - 2 * doubt));
    const first = Math.max(0, Math.ceil(from));
    const last = Math.min(end - 1, Math.floor(to));
    for (let cell = first; cell <= last; cell++) {
      votes[cell]! -= trust[Math.floor(cell / STEP)]!;
      voters[cell]!++;
    }
    let before = -1;
    for (const place of places) {
      const cell = Math.round(place);
      if (cell < first || cell > last || cell === before) continue;
      votes[cell]! += 2 * trust[Math.floor(cell / STEP)]!;
      before = cell;
    }
  }
  return Int8Array.from(votes, (vote, cell) =>
    voters[cell]! < LEAST_VOTERS ? -1 : vote > 0 ? 1 : 0,
  );
}
