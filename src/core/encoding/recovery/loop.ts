/**
 * Clock recovery for disturbed tracks: a second-order loop. Each transition's distance from where
 * it was expected
 * corrects the phase for the next one in part, and the cell length a little, so that jitter of
 * single transitions
 * (which shortens one interval and lengthens the next) does not add up to a wrong run.
 */
import type { Intervals } from '../../flux/reading';
import type { RecoverySetting, WholeRecovery } from '../encoding';
import type { RunRange } from './cell-gains';
import { LONGEST_RUN } from './cell-stream';

const MAX_DRIFT = 0.12;
const loop = (phaseGain: number, rateGain: number, shiftGain: number): RecoverySetting => ({
  phaseGain,
  rateGain,
  shiftGain,
  drift: MAX_DRIFT,
  cell: 1,
});

/** The loops that are tried on every hurt track. */
export const LOOPS: Readonly<
  Record<Exclude<WholeRecovery, 'stepped' | 'by-hand'>, RecoverySetting>
> = Object.freeze({
  loop: loop(0.3, 0.01, 0),
  'loop-stiff': loop(0.12, 0.002, 0),
  'loop-quick': loop(0.6, 0.03, 0),
  'loop-shift': loop(0.3, 0.006, 0.12),
  'loop-shift-strong': loop(0.25, 0.004, 0.25),
});

/** Fills `runs` with a run for every interval; `fitted` is the cell in ticks. */
export function recoverByLoop(
  intervals: Intervals,
  fitted: number,
  { phaseGain, rateGain, shiftGain, drift, cell: start }: RecoverySetting,
  range: RunRange,
  runs: Uint8Array,
): void {
  const { ticks, count } = intervals;
  const nominal = fitted * start;
  const low = nominal * (1 - drift);
  const high = nominal * (1 + drift);
  let cell = nominal;
  let carried = 0;
  for (let i = 0; i < count; i++) {
    let interval = ticks[i]! + carried;
    if (shiftGain > 0 && i > 0 && i + 1 < count) {
      // A short neighbour pushes the transition between away from it: give back what it took.
      const before = ticks[i - 1]!;
      const after = ticks[i + 1]!;
      interval +=
        shiftGain *
        (softShort(before, cell, range) +
          softShort(after, cell, range) -
          2 * softShort(ticks[i]!, cell, range));
    }
    const run = Math.max(1, Math.round(interval / cell));
    if (run >= LONGEST_RUN) {
      runs[i] = LONGEST_RUN;
      carried = 0;
      cell = nominal + (cell - nominal) * 0.5;
      continue;
    }
    runs[i] = run;
    const error = interval - run * cell;
    carried = error * (1 - phaseGain);
    cell = Math.max(low, Math.min(high, cell + (rateGain * error) / run));
  }
}

/**
 * How short an interval is, from 0 (the code's longest run and more) to 1 cell (its shortest and
 * less), in ticks.
 */
function softShort(interval: number, cell: number, { shortest, longest }: RunRange): number {
  return Math.max(0, Math.min(cell, (longest * cell - interval) / (longest - shortest)));
}
