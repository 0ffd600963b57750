/**
 * A field of a group code on the cells of all turns: its check carried through the trellis, so that
 * the likeliest field that meets it is found together with its share of all that meet it.
 */
import type { CellMetric } from '../cell-metric';
import type { TrackModel } from '../track-model';
import {
  CONTEXTS,
  GroupFigures,
  RUN_KINDS,
  TRAILS,
  contextOf,
  type GroupCode,
} from './group-figures';
import { likelyGroups, type FieldAsked, type GroupEntry, type LikelyGroups } from './likely-groups';

export interface GroupsAsked extends Omit<FieldAsked, 'width'> {
  /** A field whose times are less plain is not asked for. */
  leastPlainness: number;
}

export interface GroupField {
  values: Uint8Array;
  /** Natural logarithm of its share of all fields that meet the check; 0 is certainty. */
  certainty: number;
  /** The same of the likeliest field, whatever its check, among all fields: how plain the times are. */
  plainness: number;
}

/** Ways out of a group into one that begins with so many cells without a transition, by trail and sum. */
interface Way {
  best: Float64Array;
  weight: Float64Array;
  by: Int8Array;
}

/** Of the likeliest way to a group; e⁻⁶⁹. */
const FAINT = 1e-30;

/** The likeliest field of all with this much of their share needs no other held against its check. */
const PLAIN = -1e-7;

/** The likeliest values whose check comes out; null where no sequence meets it, or none is plain. */
export function readGroups(
  metric: CellMetric,
  model: TrackModel,
  code: GroupCode,
  asked: GroupsAsked,
): GroupField | null {
  const figures = new GroupFigures(metric, model, code);
  const likely = likelyGroups(figures, { ...asked, width: code.width });
  if (!likely || likely.share < asked.leastPlainness) return null;
  const { values, share } = likely;
  // Of those that meet the check its share is greater still.
  if (share >= PLAIN && sumOf(values, code, asked) === 0)
    return { values, certainty: share, plainness: share };
  return new GroupTrellis(figures, code, asked, likely).read();
}

/** What a group's value is added to its field's sum as. */
const addedAs = (group: number, { bits, lanes }: GroupCode, value: number): number =>
  lanes === 2 && group % 2 === 0 ? value << bits : value;

const sumOf = (values: Uint8Array, code: GroupCode, { known }: GroupsAsked): number =>
  values.reduce(
    (sum, value, group) => (known(group) >= 0 ? sum : sum ^ addedAs(group, code, value)),
    0,
  );

class GroupTrellis {
  private readonly sums: number;
  /** By context and sum: score of the best way there, and the weight of all ways there. */
  private best: Float64Array;
  private weight: Float64Array;
  private logScale = 0;
  /** By group, context and sum behind it: the value and the context before. */
  private readonly from: Int16Array;

  constructor(
    private readonly figures: GroupFigures,
    private readonly code: GroupCode,
    private readonly asked: GroupsAsked,
    private readonly likely: LikelyGroups,
  ) {
    this.sums = 1 << (code.bits * code.lanes);
    this.best = new Float64Array(CONTEXTS * this.sums).fill(-Infinity);
    this.weight = new Float64Array(CONTEXTS * this.sums);
    this.from = new Int16Array(asked.groups * CONTEXTS * this.sums);
    const start = contextOf(asked.anchorTrail, asked.anchorRun);
    this.best[start * this.sums] = 0;
    this.weight[start * this.sums] = 1;
  }

  read(): GroupField | null {
    const { groups, start } = this.asked;
    const { width } = this.code;
    for (let group = 0; group < groups; group++)
      this.step(group, start + group * width, this.likely.entries[group]!);
    return this.end(start + groups * width);
  }

  /** Ways out of each context and sum into a group that begins with `lead` cells without one. */
  private leaving(cell: number, lead: number, trails: ReadonlySet<number>): Way {
    const { sums } = this;
    const best = new Float64Array(TRAILS * sums).fill(-Infinity);
    const weight = new Float64Array(TRAILS * sums);
    const by = new Int8Array(TRAILS * sums);
    for (const trail of trails)
      for (let run = 1; run < RUN_KINDS; run++) {
        const pending = this.figures.pending(cell, trail, run, lead);
        if (pending === -Infinity) continue;
        const factor = Math.exp(pending);
        const base = contextOf(trail, run) * sums;
        for (let sum = 0; sum < sums; sum++) {
          const score = this.best[base + sum]! + pending;
          if (score === -Infinity) continue;
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

  private step(group: number, cell: number, entries: readonly GroupEntry[]): void {
    const { sums } = this;
    const { shapes } = this.figures;
    const best = new Float64Array(CONTEXTS * sums).fill(-Infinity);
    const weight = new Float64Array(CONTEXTS * sums);
    const isKnown = this.asked.known(group) >= 0;
    const from = this.from.subarray(group * CONTEXTS * sums, (group + 1) * CONTEXTS * sums);
    const ways = new Map<number, Way>();
    const wayInto = (lead: number): Way => {
      const there = ways.get(lead);
      if (there) return there;
      const trails = entries.filter(({ value }) => shapes[value]!.lead === lead);
      const way = this.leaving(cell, lead, new Set(trails.map(({ trail }) => trail)));
      ways.set(lead, way);
      return way;
    };
    for (const { value, trail, entry } of entries) {
      const shape = shapes[value]!;
      const way = wayInto(shape.lead);
      const to = contextOf(shape.trail, shape.lastRun) * sums;
      const added = isKnown ? 0 : addedAs(group, this.code, value);
      const factor = Math.exp(entry);
      const base = trail * sums;
      const by = (value * TRAILS + trail) * RUN_KINDS;
      for (let sum = 0; sum < sums; sum++) {
        const score = way.best[base + sum]! + entry;
        if (score === -Infinity) continue;
        const next = to + (sum ^ added);
        weight[next]! += way.weight[base + sum]! * factor;
        if (score > best[next]!) {
          best[next] = score;
          from[next] = by + way.by[base + sum]!;
        }
      }
    }
    this.best = best;
    this.rescale(weight);
  }

  /** What is left of ways that are all but impossible goes: numbers that small are slow, and nothing. */
  private rescale(weight: Float64Array): void {
    let most = 0;
    for (const each of weight) if (each > most) most = each;
    if (most > 0) {
      for (let i = 0; i < weight.length; i++) {
        const share = weight[i]! / most;
        weight[i] = share < FAINT ? 0 : share;
        if (share < FAINT) this.best[i] = -Infinity;
      }
      this.logScale += Math.log(most);
    }
    this.weight = weight;
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
        const pending = this.figures.pendingAtEnd(cell, trail, run);
        if (pending === -Infinity) continue;
        const at = contextOf(trail, run) * sums;
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
    const values = new Uint8Array(this.asked.groups);
    let at = end;
    for (let group = this.asked.groups - 1; group >= 0; group--) {
      const from = this.from[group * CONTEXTS * sums + at]!;
      const run = from % RUN_KINDS;
      const trail = Math.floor(from / RUN_KINDS) % TRAILS;
      const value = Math.floor(from / RUN_KINDS / TRAILS);
      values[group] = value;
      const added = this.asked.known(group) >= 0 ? 0 : addedAs(group, this.code, value);
      at = contextOf(trail, run) * sums + ((at % sums) ^ added);
    }
    return values;
  }
}
