/**
 * What groups of a group code cost on the cells of all turns: the figures of the transitions in a
 * group, and of the last one before it, which the group behind it decides.
 */
import type { CellMetric } from '../cell-metric';
import type { TrackModel } from '../track-model';

export interface GroupCode {
  /** Cells of each value, first cell highest. */
  patterns: readonly number[];
  width: number;
  /** Bits of a value. */
  bits: number;
  /** Values are added up in so many turns: 2 where a byte is two groups. */
  lanes: 1 | 2;
}

export interface GroupShape {
  /** Cells without a transition before its first, and behind its last. */
  lead: number;
  trail: number;
  /** Run before the last transition. */
  lastRun: number;
  /** Cells with a transition, from the group's first. */
  ones: readonly number[];
}

export const TRAILS = 3;
/** Cells without a transition that a group may begin with. */
export const LEADS = 3;
export const RUN_KINDS = 4;
/** Contexts behind a group: cells without a transition at its end, and the run before its last. */
export const CONTEXTS = TRAILS * RUN_KINDS;
const OFF_TRACK = -12;

export const contextOf = (trail: number, run: number): number => trail * RUN_KINDS + run;

function shapesOf({ patterns, width }: GroupCode): GroupShape[] {
  return patterns.map((pattern) => {
    const ones: number[] = [];
    for (let cell = 0; cell < width; cell++)
      if ((pattern >>> (width - 1 - cell)) & 1) ones.push(cell);
    const last = ones[ones.length - 1]!;
    return {
      lead: ones[0]!,
      trail: width - 1 - last,
      lastRun: ones.length > 1 ? last - ones[ones.length - 2]! : 0,
      ones,
    };
  });
}

export class GroupFigures {
  readonly shapes: readonly GroupShape[];

  constructor(
    private readonly metric: CellMetric,
    private readonly model: TrackModel,
    code: GroupCode,
  ) {
    this.shapes = shapesOf(code);
  }

  /** Log-likelihood of a transition in a cell, with the runs before and behind it. */
  private figure(cell: number, before: number, after: number): number {
    const { from, cells, kinds, values } = this.metric;
    const { shortest, longest } = this.model;
    if (before < shortest || before > longest || after < shortest || after > longest)
      return -Infinity;
    const at = cell - from;
    if (at < 0 || at >= cells) return OFF_TRACK;
    return values[(at * kinds + before - shortest) * kinds + after - shortest]!;
  }

  /** The last transition before a group that begins at `cell` with `lead` cells without one. */
  pending(cell: number, trail: number, run: number, lead: number): number {
    return this.figure(cell - 1 - trail, run, trail + 1 + lead);
  }

  /**
   * The figure of a field's last transition, whatever follows it: with how many cells the next
   * group begins makes no other field of it.
   */
  pendingAtEnd(cell: number, trail: number, run: number): number {
    const leads = this.shapes.some(({ lead }) => lead > 0) ? [0, 1] : [0];
    const sum = leads.reduce(
      (part, lead) => part + Math.exp(this.pending(cell, trail, run, lead)),
      0,
    );
    return Math.log(sum);
  }

  /** A group's transitions but its first and its last. */
  inside(cell: number, { ones }: GroupShape): number {
    let sum = 0;
    for (let i = 1; i + 1 < ones.length; i++)
      sum += this.figure(cell + ones[i]!, ones[i]! - ones[i - 1]!, ones[i + 1]! - ones[i]!);
    return sum;
  }

  /** A group's first transition, behind a group that ends with `trail` cells without one. */
  first(cell: number, { lead, ones }: GroupShape, trail: number): number {
    const [first, second] = ones as [number, number];
    return this.figure(cell + first, trail + 1 + lead, second - first);
  }
}
