/**
 * A field of a group code on the cells of all turns: its check carried through the trellis, so that
 * the likeliest field that meets it is found together with its share of all that meet it.
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

export interface GroupsAsked {
  /** First cell of the first group. */
  start: number;
  /** Cells without a transition before it, and the run before the last one. */
  anchorTrail: number;
  anchorRun: number;
  groups: number;
  /** Value of a group that is known and not added up, or −1. */
  known: (group: number) => number;
}

export interface GroupField {
  values: Uint8Array;
  /** Natural logarithm of its share of all fields that meet the check; 0 is certainty. */
  certainty: number;
  /** The same of the likeliest field, whatever its check, among all fields: how plain the times are. */
  plainness: number;
}

interface Shape {
  lead: number;
  trail: number;
  /** Run before the last transition. */
  lastRun: number;
  /** Cells with a transition, from the group's first. */
  ones: readonly number[];
}

const shapesOf = ({ patterns, width }: GroupCode): Shape[] =>
  patterns.map((pattern) => {
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

/** Ways out of a group into one that begins with so many cells without a transition, by trail and sum. */
interface Way {
  best: Float64Array;
  weight: Float64Array;
  by: Int8Array;
}

/** A value behind an ending: its own figure, and that of the best way through it. */
interface Entry {
  value: number;
  trail: number;
  entry: number;
  reached: number;
}

/**
 * What is this much less likely than the best way is left out: of all such ways together, e⁻³⁰
 * times twenty thousand, nothing comes near a share that matters.
 */
const HOPELESS = 30;

const TRAILS = 3;
const RUN_KINDS = 4;
/** Contexts behind a group: cells without a transition at its end, and the run before its last. */
const CONTEXTS = TRAILS * RUN_KINDS;
const OFF_TRACK = -12;

/** The likeliest values whose check comes out; null where no sequence meets it. */
export function readGroups(
  metric: CellMetric,
  model: TrackModel,
  code: GroupCode,
  asked: GroupsAsked,
): GroupField | null {
  return new GroupTrellis(metric, model, code, asked).read();
}

class GroupTrellis {
  private readonly shapes: Shape[];
  private readonly sums: number;
  /** By context and sum: score of the best way there, and the weight of all ways there. */
  private best: Float64Array;
  private weight: Float64Array;
  private logScale = 0;
  private readonly from: Int32Array;

  constructor(
    private readonly metric: CellMetric,
    private readonly model: TrackModel,
    private readonly code: GroupCode,
    private readonly asked: GroupsAsked,
  ) {
    this.shapes = shapesOf(code);
    this.sums = 1 << (code.bits * code.lanes);
    this.best = new Float64Array(CONTEXTS * this.sums).fill(-Infinity);
    this.weight = new Float64Array(CONTEXTS * this.sums);
    this.from = new Int32Array(asked.groups * CONTEXTS * this.sums).fill(-1);
    const start = asked.anchorTrail * RUN_KINDS + asked.anchorRun;
    this.best[start * this.sums] = 0;
    this.weight[start * this.sums] = 1;
  }

  read(): GroupField | null {
    const { groups, start } = this.asked;
    const { width } = this.code;
    for (let group = 0; group < groups; group++) this.step(group, start + group * width);
    return this.end(start + groups * width);
  }

  private value(cell: number, before: number, after: number): number {
    const { from, cells, kinds, values } = this.metric;
    const { shortest, longest } = this.model;
    if (before < shortest || before > longest || after < shortest || after > longest)
      return -Infinity;
    const at = cell - from;
    if (at < 0 || at >= cells) return OFF_TRACK;
    return values[(at * kinds + before - shortest) * kinds + after - shortest]!;
  }

  /** Ways out of each context and sum into a group that begins with `lead` cells without one. */
  private leaving(cell: number, lead: number): Way {
    const { sums } = this;
    const best = new Float64Array(TRAILS * sums).fill(-Infinity);
    const weight = new Float64Array(TRAILS * sums);
    const by = new Int8Array(TRAILS * sums);
    for (let trail = 0; trail < TRAILS; trail++)
      for (let run = 1; run < RUN_KINDS; run++) {
        const pending = this.value(cell - 1 - trail, run, trail + 1 + lead);
        if (pending === -Infinity) continue;
        const factor = Math.exp(pending);
        const base = (trail * RUN_KINDS + run) * sums;
        for (let sum = 0; sum < sums; sum++) {
          const score = this.best[base + sum]! + pending;
          const at = trail * sums + sum;
          weight[at]! += this.weight[base + sum]! * factor;
          if (score > best[at]!) {
            best[at] = score;
            by[at] = run;
          }
        }
      }
    return { best, weight, by };
  }

  private step(group: number, cell: number): void {
    const { sums, shapes } = this;
    const { bits, lanes } = this.code;
    const shiftBy = lanes === 2 && group % 2 === 0 ? bits : 0;
    const best = new Float64Array(CONTEXTS * sums).fill(-Infinity);
    const weight = new Float64Array(CONTEXTS * sums);
    const known = this.asked.known(group);
    const ways = [this.leaving(cell, 0), this.leaving(cell, 1), this.leaving(cell, 2)];
    const entries = this.entries(cell, known, ways);
    const bound = Math.max(...entries.map(({ reached }) => reached)) - HOPELESS;
    for (const { value, trail, entry, reached } of entries) {
      if (reached < bound) continue;
      const shape = shapes[value]!;
      const way = ways[shape.lead]!;
      const to = (shape.trail * RUN_KINDS + shape.lastRun) * sums;
      const added = known >= 0 ? 0 : value << shiftBy;
      const factor = Math.exp(entry);
      const base = trail * sums;
      for (let sum = 0; sum < sums; sum++) {
        const next = to + (sum ^ added);
        weight[next]! += way.weight[base + sum]! * factor;
        const score = way.best[base + sum]! + entry;
        if (score > best[next]!) {
          best[next] = score;
          this.from[group * CONTEXTS * sums + next] =
            (value * TRAILS + trail) * RUN_KINDS + way.by[base + sum]!;
        }
      }
    }
    this.best = best;
    this.rescale(weight);
  }

  /** Each value a group may have, behind each ending of the group before, with its figures. */
  private entries(cell: number, known: number, ways: readonly Way[]): Entry[] {
    const { shapes, sums } = this;
    const tops = ways.map(({ best }) =>
      Array.from({ length: TRAILS }, (_, trail) => {
        let top = -Infinity;
        for (let sum = trail * sums; sum < (trail + 1) * sums; sum++)
          if (best[sum]! > top) top = best[sum]!;
        return top;
      }),
    );
    const entries: Entry[] = [];
    for (const [value, shape] of shapes.entries()) {
      if (known >= 0 && value !== known) continue;
      const inside = this.inside(cell, shape);
      const [first, second] = shape.ones as [number, number];
      for (let trail = 0; trail < TRAILS; trail++) {
        const entry = inside + this.value(cell + first, trail + 1 + shape.lead, second - first);
        const reached = entry + tops[shape.lead]![trail]!;
        if (reached > -Infinity) entries.push({ value, trail, entry, reached });
      }
    }
    return entries;
  }

  /** Figures of a group's transitions but its first and its last. */
  private inside(cell: number, { ones }: Shape): number {
    let sum = 0;
    for (let i = 1; i + 1 < ones.length; i++)
      sum += this.value(cell + ones[i]!, ones[i]! - ones[i - 1]!, ones[i + 1]! - ones[i]!);
    return sum;
  }

  private rescale(weight: Float64Array): void {
    let most = 0;
    for (const each of weight) if (each > most) most = each;
    if (most > 0) {
      for (let i = 0; i < weight.length; i++) weight[i]! /= most;
      this.logScale += Math.log(most);
    }
    this.weight = weight;
  }

  /**
   * The figure of the field's last transition, whatever follows it: with how many cells the next
   * group begins makes no other field of it.
   */
  private pendingAt(cell: number, trail: number, run: number): number {
    const leads = this.shapes.some(({ lead }) => lead > 0) ? [0, 1] : [0];
    const sum = leads.reduce(
      (part, lead) => part + Math.exp(this.value(cell - 1 - trail, run, trail + 1 + lead)),
      0,
    );
    return Math.log(sum);
  }

  private end(cell: number): GroupField | null {
    const { sums } = this;
    let chosen = -1;
    let most = -Infinity;
    let mass = 0;
    let mostOfAll = -Infinity;
    let massOfAll = 0;
    for (let trail = 0; trail < TRAILS; trail++)
      for (let run = 1; run < RUN_KINDS; run++) {
        const pending = this.pendingAt(cell, trail, run);
        if (pending === -Infinity) continue;
        const at = (trail * RUN_KINDS + run) * sums;
        const factor = Math.exp(pending);
        mass += this.weight[at]! * factor;
        for (let sum = 0; sum < sums; sum++) {
          massOfAll += this.weight[at + sum]! * factor;
          mostOfAll = Math.max(mostOfAll, this.best[at + sum]! + pending);
        }
        if (this.best[at]! + pending > most) {
          most = this.best[at]! + pending;
          chosen = at;
        }
      }
    if (chosen < 0 || !(mass > 0)) return null;
    const share = (score: number, of: number) => Math.min(0, score - Math.log(of) - this.logScale);
    return {
      values: this.traced(chosen),
      certainty: share(most, mass),
      plainness: share(mostOfAll, massOfAll),
    };
  }

  private traced(end: number): Uint8Array {
    const { sums } = this;
    const { bits, lanes } = this.code;
    const values = new Uint8Array(this.asked.groups);
    let at = end;
    for (let group = this.asked.groups - 1; group >= 0; group--) {
      const from = this.from[group * CONTEXTS * sums + at]!;
      const run = from % RUN_KINDS;
      const trail = Math.floor(from / RUN_KINDS) % TRAILS;
      const value = Math.floor(from / RUN_KINDS / TRAILS);
      values[group] = value;
      const shiftBy = lanes === 2 && group % 2 === 0 ? bits : 0;
      const added = this.asked.known(group) >= 0 ? 0 : value << shiftBy;
      at = (trail * RUN_KINDS + run) * sums + ((at % sums) ^ added);
    }
    return values;
  }
}
