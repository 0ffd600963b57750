/**
 * A field of a group code on the cells of all turns: its check carried through the trellis, so that
 * the likeliest field that meets it is found together with its share of all that meet it.
 */
import type { CellMetric } from '../cell-metric';
import type { TrackModel } from '../track-model';
import {
  CONTEXTS,
  GroupFigures,
  LEADS,
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
  /** The group that they lead into. */
  into: number;
}

/** Behind a group, by context and sum: score of the best way there, and the weight of all ways there. */
interface Front {
  best: Float64Array;
  weight: Float64Array;
}
const frontOf = (size: number): Front => ({
  best: new Float64Array(size).fill(-Infinity),
  weight: new Float64Array(size),
});

/** Of the likeliest way to a group; e⁻⁶⁹. */
const FAINT = 1e-30;
/** Groups after which weights are made to begin from 1 again: what one group multiplies is far from what overflows. */
const RESCALED_EACH = 4;

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
  /** Behind the group before, and room for what is behind the next. */
  private front: Front;
  private spare: Front;
  private readonly ways: Way[];
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
    this.front = frontOf(CONTEXTS * this.sums);
    this.spare = frontOf(CONTEXTS * this.sums);
    this.ways = Array.from({ length: LEADS }, () => ({
      ...frontOf(TRAILS * this.sums),
      by: new Int8Array(TRAILS * this.sums),
      into: -1,
    }));
    this.from = new Int16Array(asked.groups * CONTEXTS * this.sums);
    const start = contextOf(asked.anchorTrail, asked.anchorRun);
    this.front.best[start * this.sums] = 0;
    this.front.weight[start * this.sums] = 1;
  }

  read(): GroupField | null {
    const { groups, start } = this.asked;
    const { width } = this.code;
    for (let group = 0; group < groups; group++)
      this.step(group, start + group * width, this.likely.entries[group]!);
    this.rescale();
    return this.end(start + groups * width);
  }

  /** Fills in the ways out of each context and sum into a group that begins with `lead` cells without one. */
  private leaving(way: Way, cell: number, lead: number, trails: ReadonlySet<number>): void {
    const { sums, front } = this;
    const { best, weight, by } = way;
    best.fill(-Infinity);
    weight.fill(0);
    for (const trail of trails)
      for (let run = 1; run < RUN_KINDS; run++) {
        const pending = this.figures.pending(cell, trail, run, lead);
        if (pending === -Infinity) continue;
        const factor = Math.exp(pending);
        const base = contextOf(trail, run) * sums;
        for (let sum = 0; sum < sums; sum++) {
          const score = front.best[base + sum]! + pending;
          if (score === -Infinity) continue;
          const at = trail * sums + sum;
          weight[at]! += front.weight[base + sum]! * factor;
          if (score > best[at]!) {
            best[at] = score;
            by[at] = run;
          }
        }
      }
  }

  /** The ways into a group, worked out once. */
  private wayInto(group: number, cell: number, lead: number, entries: readonly GroupEntry[]): Way {
    const way = this.ways[lead]!;
    if (way.into === group) return way;
    way.into = group;
    const { shapes } = this.figures;
    const own = entries.filter(({ value }) => shapes[value]!.lead === lead);
    this.leaving(way, cell, lead, new Set(own.map(({ trail }) => trail)));
    return way;
  }

  private step(group: number, cell: number, entries: readonly GroupEntry[]): void {
    const { sums } = this;
    const { shapes } = this.figures;
    const { best, weight } = this.spare;
    best.fill(-Infinity);
    weight.fill(0);
    const isKnown = this.asked.known(group) >= 0;
    const from = this.from.subarray(group * CONTEXTS * sums, (group + 1) * CONTEXTS * sums);
    for (const { value, trail, entry } of entries) {
      const shape = shapes[value]!;
      const way = this.wayInto(group, cell, shape.lead, entries);
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
    [this.front, this.spare] = [this.spare, this.front];
    if (group % RESCALED_EACH === RESCALED_EACH - 1) this.rescale();
  }

  /** What is left of ways that are all but impossible goes: numbers that small are slow, and nothing. */
  private rescale(): void {
    const { best, weight } = this.front;
    let most = 0;
    for (const each of weight) if (each > most) most = each;
    if (most <= 0) return;
    for (let i = 0; i < weight.length; i++) {
      const share = weight[i]! / most;
      weight[i] = share < FAINT ? 0 : share;
      if (share < FAINT) best[i] = -Infinity;
    }
    this.logScale += Math.log(most);
  }

  private end(cell: number): GroupField | null {
    const { sums } = this;
    const { best, weight } = this.front;
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
        mass += weight[at]! * factor;
        for (let sum = 0; sum < sums; sum++) {
          massOfAll += weight[at + sum]! * factor;
          mostOfAll = Math.max(mostOfAll, best[at + sum]! + pending);
        }
        if (best[at]! + pending > most) {
          most = best[at]! + pending;
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
