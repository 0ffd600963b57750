/**
 * How much likelier every cell of a track is as the likeliest sequence has it than otherwise: the
 * best sequence with a transition in a cell against the best one without (max-marginals, by Viterbi's
 * recursion followed from both ends). The code's run lengths are kept, checks have no say in it.
 */
import type { CellMetric } from './cell-metric';
import type { TrackModel } from './track-model';

type Runs = Pick<TrackModel, 'shortest' | 'longest'>;

/** By cell: log-likelihood of a transition there less that of none, in nats. */
export function cellMargins(metric: CellMetric, runs: Runs): Float32Array {
  const through = bestThrough(metric, runs);
  const margins = new Float32Array(metric.cells);
  for (let i = 0; i < metric.cells; i++)
    margins[i] = withTransition(through, i, metric.kinds) - without(through, i, metric, runs);
  return margins;
}

/** The best whole sequences that hold a run, and those that begin with a transition. */
interface Through {
  /** By cell of a transition and the run behind it. */
  runs: Float64Array;
  /** By cell of the first transition; there are as many as the longest run. */
  starts: Float64Array;
}

function bestThrough(metric: CellMetric, limits: Runs): Through {
  const { cells, kinds, values } = metric;
  const { shortest, longest } = limits;
  const rest = restsOf(metric, limits);
  const reached = new Float64Array((cells + longest + 1) * kinds).fill(-Infinity);
  for (let node = 0; node < longest * kinds; node++) reached[node] = 0;
  const runs = new Float64Array(cells * kinds);
  const starts = new Float64Array(Math.min(longest, cells)).fill(-Infinity);
  for (let i = 0; i < cells; i++)
    for (let after = 0; after < kinds; after++) {
      let most = -Infinity;
      let first = -Infinity;
      for (let before = 0; before < kinds; before++) {
        const value = values[(i * kinds + before) * kinds + after]!;
        most = Math.max(most, reached[i * kinds + before]! + value);
        first = Math.max(first, value);
      }
      const next = (i + shortest + after) * kinds + after;
      reached[next] = Math.max(reached[next]!, most);
      runs[i * kinds + after] = most + rest[i * kinds + after]!;
      if (i < starts.length) starts[i] = Math.max(starts[i]!, first + rest[i * kinds + after]!);
    }
  return { runs, starts };
}

/** By cell of a transition and the run behind it: the best of all that follows it. */
function restsOf({ cells, kinds, values }: CellMetric, { shortest }: Runs): Float64Array {
  const rest = new Float64Array(cells * kinds);
  for (let i = cells - 1; i >= 0; i--)
    for (let before = 0; before < kinds; before++) {
      const next = i + shortest + before;
      // Behind the end nothing is known.
      if (next >= cells) continue;
      let most = -Infinity;
      for (let after = 0; after < kinds; after++)
        most = Math.max(
          most,
          values[(next * kinds + before) * kinds + after]! + rest[next * kinds + after]!,
        );
      rest[i * kinds + before] = most;
    }
  return rest;
}

function withTransition({ runs }: Through, i: number, kinds: number): number {
  let most = -Infinity;
  for (let after = 0; after < kinds; after++) most = Math.max(most, runs[i * kinds + after]!);
  return most;
}

/** The best sequence one of whose runs lies over the cell, or that begins behind it. */
function without(
  { runs, starts }: Through,
  i: number,
  { kinds }: CellMetric,
  { shortest, longest }: Runs,
): number {
  let most = -Infinity;
  for (let back = 1; back < longest && back <= i; back++)
    for (let after = Math.max(0, back + 1 - shortest); after < kinds; after++)
      most = Math.max(most, runs[(i - back) * kinds + after]!);
  for (let first = i + 1; first < starts.length; first++) most = Math.max(most, starts[first]!);
  return most;
}
