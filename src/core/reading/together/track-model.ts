/** What is known of how a track is recorded: fitted from the track itself, sector checks apart. */
import { RUNS } from '@/core/encoding';
import type { EncodingId } from '@/core/layout/layout';
import { STEP } from './garbage-chain';

/** Cells of one piece of a track that has a noise of its own. */
export const BLOCK = 32;

export interface TrackModel {
  /** Runs of the code in cells. */
  shortest: number;
  longest: number;
  /** Kinds of runs, and so the width of the tables by run before and run after. */
  kinds: number;
  /**
   * Where a transition comes to lie, in cells from its own, by the run before it and the run after
   * it: peak shift.
   */
  shift: Float64Array;
  /** Deviation of a transition from there, in cells. */
  sigma: number;
  /** Chance that a transition is missed in one turn. */
  missed: number;
  /** Transitions that belong to nothing, a cell. */
  extra: number;
  /** Chance that a transition is missing on the medium, and so in all turns. */
  lost: number;
  /** Chance that a transition lies elsewhere on the medium, and so alike in all turns. */
  moved: number;
  /** By turn and step of the chain (`garbage-chain.ts`): chance that the turn is garbage there. */
  garbage: Float32Array[];
  /** By block: deviation where it is more than the track's. */
  local: Float32Array | null;
}

/** Strengths of peak shift that a fit is begun with, in cells. */
export const STRENGTHS = [0, 0.15, 0.3, 0.45];
const START_SIGMA = 0.12;
export const START_MISSED = 0.004;
export const START_EXTRA = 0.003;
const START_LOST = 1e-4;
const START_MOVED = 5e-4;
export const LEAST_GARBAGE = 0.006;

/** How strongly a run pushes its transitions, for a first guess: the shortest most. */
const PUSH = { 1: [1, 0.12, 0.02], 2: [1, 0.35, 0.12] } as const;

/** The model that a fit starts from: peak shift of this strength, in cells. */
export function startModel(
  encoding: EncodingId,
  strength: number,
  turns: number,
  cells: number,
): TrackModel {
  const { shortest, longest } = RUNS[encoding];
  const kinds = longest - shortest + 1;
  const push = PUSH[shortest === 2 ? 2 : 1];
  const shift = new Float64Array(kinds * kinds);
  for (let before = 0; before < kinds; before++)
    for (let after = 0; after < kinds; after++)
      shift[before * kinds + after] = strength * (push[before]! - push[after]!);
  return {
    shortest,
    longest,
    kinds,
    shift,
    sigma: START_SIGMA,
    missed: START_MISSED,
    extra: START_EXTRA,
    lost: START_LOST,
    moved: START_MOVED,
    garbage: Array.from({ length: turns }, () =>
      new Float32Array(Math.ceil(cells / STEP) + 1).fill(LEAST_GARBAGE),
    ),
    local: null,
  };
}
