/**
 * The likeliest sequence of transitions under the code's run lengths alone (Viterbi): what a track
 * holds before anything is known of its fields.
 */
import type { CellMetric } from './cell-metric';
import type { TrackModel } from './track-model';

export interface CellPath {
  /** Cells with a transition, ascending. */
  cells: Int32Array;
  score: number;
}

export function freePath(
  { from, cells, kinds, values }: CellMetric,
  { shortest, longest }: TrackModel,
): CellPath {
  // best[i * kinds + b]: of all sequences that have a transition in cell i with run b before it.
  const best = new Float64Array((cells + longest + 1) * kinds).fill(-Infinity);
  const behind = new Uint8Array((cells + longest + 1) * kinds);
  for (let i = 0; i < longest; i++)
    for (let before = 0; before < kinds; before++) best[i * kinds + before] = 0;
  for (let i = 0; i < cells; i++) {
    for (let after = 0; after < kinds; after++) {
      let most = -Infinity;
      let chosen = 0;
      for (let before = 0; before < kinds; before++) {
        const reached = best[i * kinds + before]! + values[(i * kinds + before) * kinds + after]!;
        if (reached > most) {
          most = reached;
          chosen = before;
        }
      }
      const next = (i + shortest + after) * kinds + after;
      if (most > best[next]!) {
        best[next] = most;
        behind[next] = chosen;
      }
    }
  }
  return traced(best, behind, { from, cells, kinds, shortest, longest });
}

interface Shape {
  from: number;
  cells: number;
  kinds: number;
  shortest: number;
  longest: number;
}

function traced(
  best: Float64Array,
  behind: Uint8Array,
  { from, cells, kinds, shortest, longest }: Shape,
): CellPath {
  let at = cells * kinds;
  for (let node = cells * kinds; node < (cells + longest) * kinds; node++)
    if (best[node]! > best[at]!) at = node;
  const score = best[at]!;
  const found: number[] = [];
  for (;;) {
    const cell = Math.floor(at / kinds);
    const run = shortest + (at % kinds);
    const before = cell - run;
    if (before < 0) break;
    found.push(from + before);
    if (before < longest) break;
    at = before * kinds + behind[at]!;
  }
  return { cells: Int32Array.from(found.reverse()), score };
}
