/**
 * Clock recovery for disturbed tracks: a second-order loop. Each transition's distance from where it was expected
 * corrects the phase for the next one in part, and the cell length a little, so that jitter of single transitions
 * (which shortens one interval and lengthens the next) does not add up to a wrong run.
 */
import type { Intervals } from '../../flux/reading';
import type { DecodeOptions } from '../encoding';
import type { RunRange } from './cell-gains';
import { LONGEST_RUN } from './cell-stream';

interface LoopSettings {
  /** Share of a transition's error taken for a true shift of phase; 1 forgets it at once. */
  phaseGain: number;
  /** Share of the error put into the cell length. */
  rateGain: number;
  /** Share of a run's error towards its neighbours put back: peak shift drives close transitions apart. */
  shiftGain: number;
}

const SETTINGS: Record<Exclude<DecodeOptions['recovery'], 'stepped'>, LoopSettings> = {
  'loop': { phaseGain: 0.3, rateGain: 0.01, shiftGain: 0 },
  'loop-stiff': { phaseGain: 0.12, rateGain: 0.002, shiftGain: 0 },
  'loop-quick': { phaseGain: 0.6, rateGain: 0.03, shiftGain: 0 },
  'loop-shift': { phaseGain: 0.3, rateGain: 0.006, shiftGain: 0.12 },
  'loop-shift-strong': { phaseGain: 0.25, rateGain: 0.004, shiftGain: 0.25 },
};

const MAX_DRIFT = 0.12;

/** Fills `runs` with a run for every interval, starting from a cell of `nominal` ticks. */
export function recoverByLoop(intervals: Intervals, nominal: number, recovery: Exclude<DecodeOptions['recovery'], 'stepped'>, range: RunRange, runs: Uint8Array): void {
  const { phaseGain, rateGain, shiftGain } = SETTINGS[recovery];
  const { ticks, count } = intervals;
  const low = nominal * (1 - MAX_DRIFT);
  const high = nominal * (1 + MAX_DRIFT);
  let cell = nominal;
  let carried = 0;
  for (let i = 0; i < count; i++) {
    let interval = ticks[i]! + carried;
    if (shiftGain > 0 && i > 0 && i + 1 < count) {
      // A short neighbour pushes the transition between away from it: give back what it took.
      const before = ticks[i - 1]!;
      const after = ticks[i + 1]!;
      interval += shiftGain * (softShort(before, cell, range) + softShort(after, cell, range) - 2 * softShort(ticks[i]!, cell, range));
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

/** How short an interval is, from 0 (the code's longest run and more) to 1 cell (its shortest and less), in ticks. */
function softShort(interval: number, cell: number, { shortest, longest }: RunRange): number {
  return Math.max(0, Math.min(cell, (longest * cell - interval) / (longest - shortest)));
}
