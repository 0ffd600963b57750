/**
 * A field of FM or MFM on the cells of all turns: the likeliest bits under the code's own rule of
 * clocks, and every other way through the trellis that is nearly as likely, with the bits in which
 * it differs (Viterbi both ways; the detours are those of a list decoder).
 */
import type { CellMetric } from '../cell-metric';
import type { TrackModel } from '../track-model';

interface FieldAsked {
  /** Cell of the first bit's clock. */
  start: number;
  bits: number;
  /** A transition that is known, from which the field goes on, and the run before it. */
  anchor: number;
  anchorRun: number;
  isMfm: boolean;
}

/** Another way that leaves the best one and comes back to it. */
export interface Detour {
  cost: number;
  /** Cells between which it differs. */
  from: number;
  to: number;
  /** Bits that are the other way round, ascending. */
  flips: number[];
}

/**
 * Other ways, the cheapest first. The costs of `further` ones, ascending, may have one twice that
 * two branches lead to: what is made of them errs on the side of doubt.
 */
interface Detours {
  likeliest: Detour[];
  further: Float64Array;
}

/** Detours that cost more are not looked at. */
const MOST_COST = 22;
/** A node that is this far behind the best way can't be reached at all. */
const HOPELESS = 1e6;
/** Costs nearer to none than this are rounding. */
const SAME = 1e-9;
/** Steps that one detour may take before it has to be back. */
const MOST_STEPS = 80;

export class FieldTrellis {
  readonly bits: Uint8Array;
  /** By step from the anchor: best score of all ways there, and of all ways on from there. */
  private readonly ahead: Float64Array;
  private readonly rest: Float64Array;
  private readonly behind: Int8Array;
  private readonly onward: Int8Array;
  private readonly onBest: Uint8Array;
  /** By step: whether the detour that is looked at has a transition there. */
  private readonly own: Uint8Array;
  private readonly steps: number;
  private readonly end: number;
  private readonly best: number;

  constructor(
    private readonly metric: CellMetric,
    private readonly model: TrackModel,
    private readonly asked: FieldAsked,
  ) {
    const { kinds, longest } = model;
    this.end = asked.start + 2 * asked.bits;
    this.steps = this.end - asked.anchor + longest + 1;
    this.ahead = new Float64Array(this.steps * kinds).fill(-Infinity);
    this.rest = new Float64Array(this.steps * kinds).fill(-Infinity);
    this.behind = new Int8Array(this.steps * kinds);
    this.onward = new Int8Array(this.steps * kinds).fill(-1);
    this.onBest = new Uint8Array(this.steps * kinds);
    this.own = new Uint8Array(this.steps);
    this.runAhead();
    const last = this.runBack();
    this.best = this.ahead[last]!;
    this.bits = new Uint8Array(asked.bits);
    if (this.best > -Infinity) this.traceBest(last);
  }

  get isThere(): boolean {
    return this.best > -Infinity;
  }

  private value(step: number, before: number, after: number): number {
    const { from, cells, kinds, values } = this.metric;
    const cell = this.asked.anchor + step - from;
    return cell >= 0 && cell < cells ? values[(cell * kinds + before) * kinds + after]! : -12;
  }

  /** Whether a run may follow a transition here: between two zeros stands a clock. */
  private allows(step: number, after: number): boolean {
    const { anchor, start, isMfm } = this.asked;
    const cell = anchor + step;
    const { shortest, longest } = this.model;
    const run = shortest + after;
    if (cell < start || cell + run > this.end) return true;
    const isClock = (cell - start) % 2 === 0;
    if (isMfm) return !(isClock && run === longest);
    return isClock || run === shortest;
  }

  private runAhead(): void {
    const { kinds, shortest } = this.model;
    const { anchor } = this.asked;
    this.ahead[this.asked.anchorRun - shortest] = 0;
    for (let step = 0; anchor + step < this.end; step++)
      for (let before = 0; before < kinds; before++) {
        const reached = this.ahead[step * kinds + before]!;
        if (reached === -Infinity) continue;
        for (let after = 0; after < kinds; after++) {
          if (!this.allows(step, after)) continue;
          const next = (step + shortest + after) * kinds + after;
          const score = reached + this.value(step, before, after);
          if (score > this.ahead[next]!) {
            this.ahead[next] = score;
            this.behind[next] = before;
          }
        }
      }
  }

  /** Scores from each node on; gives the node that the best way ends in. */
  private runBack(): number {
    const { kinds, shortest } = this.model;
    const firstEnd = this.end - this.asked.anchor;
    let last = firstEnd * kinds;
    for (let node = firstEnd * kinds; node < this.steps * kinds; node++) {
      this.rest[node] = 0;
      if (this.ahead[node]! > this.ahead[last]!) last = node;
    }
    for (let step = firstEnd - 1; step >= 0; step--)
      for (let before = 0; before < kinds; before++) {
        const node = step * kinds + before;
        if (this.ahead[node] === -Infinity) continue;
        for (let after = 0; after < kinds; after++) {
          if (!this.allows(step, after)) continue;
          const next = (step + shortest + after) * kinds + after;
          const score = this.value(step, before, after) + this.rest[next]!;
          if (score > this.rest[node]!) {
            this.rest[node] = score;
            this.onward[node] = after;
          }
        }
      }
    return last;
  }

  private traceBest(last: number): void {
    const { kinds, shortest } = this.model;
    for (let node = last; ;) {
      this.onBest[node] = 1;
      const step = Math.floor(node / kinds);
      this.setBit(this.bits, step);
      const before = step - shortest - (node % kinds);
      if (before < 0) break;
      node = before * kinds + this.behind[node]!;
    }
  }

  private bitAt(step: number): number {
    const place = this.asked.anchor + step - this.asked.start;
    return place >= 0 && place % 2 === 1 && place < 2 * this.asked.bits ? place >> 1 : -1;
  }

  private setBit(bits: Uint8Array, step: number): void {
    const bit = this.bitAt(step);
    if (bit >= 0) bits[bit] = 1;
  }

  /**
   * Whether the best way through a branch is that of the next branch of it as well: it is found
   * there, and once is enough.
   */
  private isOfNext(before: number, next: number): boolean {
    return this.behind[next] === before && !this.onBest[next] && this.onward[next]! >= 0;
  }

  /** Every way that differs from the best one in one stretch: the `most` likeliest, and the rest. */
  detours(most: number): Detours {
    const branches = this.branches();
    const costs = branches.costs.slice().sort();
    const limit = costs[Math.min(most, costs.length) - 1] ?? -1;
    const { from, to } = branches;
    const found = new Map<string, Detour>();
    for (let i = 0; i < branches.costs.length; i++) {
      const cost = branches.costs[i]!;
      if (cost > limit) continue;
      const detour = this.detourBy(from[i]!, to[i]!, cost);
      if (!detour || detour.flips.length === 0) continue;
      const key = detour.flips.join();
      const same = found.get(key);
      if (!same || same.cost > detour.cost) found.set(key, detour);
    }
    return {
      likeliest: [...found.values()].sort((a, b) => a.cost - b.cost),
      further: costs.subarray(Math.min(most, costs.length)),
    };
  }

  /** Every branch that leaves the best way, or leads on beside it, and what the way by it costs. */
  private branches(): { costs: Float64Array; from: Int32Array; to: Int32Array } {
    const { kinds, shortest } = this.model;
    const firstEnd = this.end - this.asked.anchor;
    const [costs, from, to]: [number[], number[], number[]] = [[], [], []];
    for (let step = 0; step < firstEnd; step++)
      for (let before = 0; before < kinds; before++) {
        const node = step * kinds + before;
        const over = this.best - this.ahead[node]!;
        if (over > HOPELESS) continue;
        for (let after = 0; after < kinds; after++) {
          if (!this.allows(step, after)) continue;
          const next = (step + shortest + after) * kinds + after;
          if (this.isOfNext(before, next)) continue;
          const cost = over - this.value(step, before, after) - this.rest[next]!;
          const isOwn = cost < SAME && this.onBest[node] === 1 && this.onBest[next] === 1;
          if (!(cost < MOST_COST) || isOwn) continue;
          costs.push(Math.max(0, cost));
          from.push(node);
          to.push(next);
        }
      }
    return {
      costs: Float64Array.from(costs),
      from: Int32Array.from(from),
      to: Int32Array.from(to),
    };
  }

  /** The best way that takes this branch; null where it does not come back in time. */
  private detourBy(node: number, next: number, cost: number): Detour | null {
    const { kinds, shortest } = this.model;
    const ones: number[] = [];
    let left = node;
    for (let steps = 0; !this.onBest[left]; steps++) {
      if (steps > MOST_STEPS) return null;
      const step = Math.floor(left / kinds);
      ones.push(step);
      const before = step - shortest - (left % kinds);
      if (before < 0) return null;
      left = before * kinds + this.behind[left]!;
    }
    let right = next;
    for (let steps = 0; !this.onBest[right]; steps++) {
      if (steps > MOST_STEPS) return null;
      const step = Math.floor(right / kinds);
      ones.push(step);
      const after = this.onward[right]!;
      if (after < 0) break;
      right = (step + shortest + after) * kinds + after;
    }
    const from = Math.floor(left / kinds);
    const to = Math.floor(right / kinds);
    return {
      cost,
      from: this.asked.anchor + from,
      to: this.asked.anchor + to,
      flips: this.flipsBetween(from, to, ones),
    };
  }

  private flipsBetween(from: number, to: number, ones: readonly number[]): number[] {
    const { own } = this;
    for (const step of ones) own[step] = 1;
    const flips: number[] = [];
    for (let step = from + 1; step < to; step++) {
      const bit = this.bitAt(step);
      if (bit >= 0 && this.bits[bit] !== own[step]) flips.push(bit);
    }
    for (const step of ones) own[step] = 0;
    return flips;
  }
}
