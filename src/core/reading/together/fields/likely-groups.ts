/**
 * Which values the groups of a field may have at all, whatever its check: by the best way through
 * the whole field that each lies on (max-marginals, forward and backward; L. R. Bahl and others,
 * "Optimal decoding of linear codes", 1974, with maxima in place of sums).
 */
import {
  CONTEXTS,
  GroupFigures,
  LEADS,
  RUN_KINDS,
  TRAILS,
  contextOf,
  type GroupShape,
} from './group-figures';

export interface FieldAsked {
  /** First cell of the first group. */
  start: number;
  /** Cells without a transition before it, and the run before the last one. */
  anchorTrail: number;
  anchorRun: number;
  groups: number;
  width: number;
  /** Value of a group that is known and not added up, or −1. */
  known: (group: number) => number;
}

/** A value behind an ending of the group before, with the figure of its transitions but its last. */
export interface GroupEntry {
  value: number;
  trail: number;
  entry: number;
}

export interface LikelyGroups {
  /** By group. */
  entries: GroupEntry[][];
  /** Values of the likeliest field. */
  values: Uint8Array;
  /** Natural logarithm of that field's share of all fields. */
  share: number;
}

/**
 * What lies on no way that is more than this less likely than the best is left out: of all such ways
 * together, e⁻²⁵ times twenty thousand, nothing comes near a share that matters.
 */
const HOPELESS = 25;

/** Null where no sequence of the code's groups is possible. */
export function likelyGroups(figures: GroupFigures, asked: FieldAsked): LikelyGroups | null {
  return new Passage(figures, asked).read();
}

interface Weighed extends GroupEntry {
  shape: GroupShape;
  /** Of the best way from the field's first cell to the end of this group. */
  reached: number;
}

const noWays = (count: number) => new Float64Array(count).fill(-Infinity);

class Passage {
  private readonly entries: Weighed[][] = [];
  /** By group and context behind it: the entry that the best way there ends with, and its run. */
  private readonly by: Int32Array;
  private best = noWays(CONTEXTS);
  private weight: Float64Array = new Float64Array(CONTEXTS);
  private logScale = 0;

  constructor(
    private readonly figures: GroupFigures,
    private readonly asked: FieldAsked,
  ) {
    this.by = new Int32Array(asked.groups * CONTEXTS);
    const start = contextOf(asked.anchorTrail, asked.anchorRun);
    this.best[start] = 0;
    this.weight[start] = 1;
  }

  read(): LikelyGroups | null {
    const { groups, start, width } = this.asked;
    for (let group = 0; group < groups; group++) this.forward(group, start + group * width);
    const behind = noWays(CONTEXTS);
    let chosen = -1;
    let most = -Infinity;
    let mass = 0;
    for (let trail = 0; trail < TRAILS; trail++)
      for (let run = 1; run < RUN_KINDS; run++) {
        const at = contextOf(trail, run);
        behind[at] = this.figures.pendingAtEnd(start + groups * width, trail, run);
        mass += this.weight[at]! * Math.exp(behind[at]!);
        if (this.best[at]! + behind[at]! > most) {
          most = this.best[at]! + behind[at]!;
          chosen = at;
        }
      }
    if (chosen < 0 || !(mass > 0)) return null;
    return {
      values: this.traced(chosen),
      share: Math.min(0, most - Math.log(mass) - this.logScale),
      entries: this.possible(behind, most),
    };
  }

  private forward(group: number, cell: number): void {
    const { figures } = this;
    const best = noWays(LEADS * TRAILS);
    const weight = new Float64Array(LEADS * TRAILS);
    const runs = new Int32Array(LEADS * TRAILS);
    for (let lead = 0; lead < LEADS; lead++)
      for (let trail = 0; trail < TRAILS; trail++)
        for (let run = 1; run < RUN_KINDS; run++) {
          const pending = figures.pending(cell, trail, run, lead);
          const from = contextOf(trail, run);
          const at = lead * TRAILS + trail;
          weight[at]! += this.weight[from]! * Math.exp(pending);
          if (this.best[from]! + pending > best[at]!) {
            best[at] = this.best[from]! + pending;
            runs[at] = run;
          }
        }
    const known = this.asked.known(group);
    const nextBest = noWays(CONTEXTS);
    const nextWeight = new Float64Array(CONTEXTS);
    const entries: Weighed[] = [];
    for (const [value, shape] of figures.shapes.entries()) {
      if (known >= 0 && value !== known) continue;
      const inside = figures.inside(cell, shape);
      const to = contextOf(shape.trail, shape.lastRun);
      for (let trail = 0; trail < TRAILS; trail++) {
        const entry = inside + figures.first(cell, shape, trail);
        const way = shape.lead * TRAILS + trail;
        const reached = entry + best[way]!;
        if (reached === -Infinity) continue;
        entries.push({ value, trail, entry, shape, reached });
        nextWeight[to]! += weight[way]! * Math.exp(entry);
        if (reached > nextBest[to]!) {
          nextBest[to] = reached;
          this.by[group * CONTEXTS + to] = (value * TRAILS + trail) * RUN_KINDS + runs[way]!;
        }
      }
    }
    this.entries.push(entries);
    this.best = nextBest;
    this.rescale(nextWeight);
  }

  private rescale(weight: Float64Array): void {
    const most = Math.max(...weight);
    if (most > 0) {
      for (let i = 0; i < weight.length; i++) weight[i]! /= most;
      this.logScale += Math.log(most);
    }
    this.weight = weight;
  }

  /** What lies on a way near the best, from the last group back to the first. */
  private possible(end: Float64Array, most: number): GroupEntry[][] {
    const { groups, start, width } = this.asked;
    const { figures } = this;
    const possible = new Array<GroupEntry[]>(groups);
    let behind: Float64Array = end;
    for (let group = groups - 1; group >= 0; group--) {
      const cell = start + group * width;
      const through = noWays(LEADS * TRAILS);
      possible[group] = [];
      for (const { value, trail, entry, shape, reached } of this.entries[group]!) {
        const rest = behind[contextOf(shape.trail, shape.lastRun)]!;
        const way = shape.lead * TRAILS + trail;
        if (entry + rest > through[way]!) through[way] = entry + rest;
        if (reached + rest >= most - HOPELESS) possible[group]!.push({ value, trail, entry });
      }
      const before = noWays(CONTEXTS);
      for (let lead = 0; lead < LEADS; lead++)
        for (let trail = 0; trail < TRAILS; trail++)
          for (let run = 1; run < RUN_KINDS; run++) {
            const all = figures.pending(cell, trail, run, lead) + through[lead * TRAILS + trail]!;
            const at = contextOf(trail, run);
            if (all > before[at]!) before[at] = all;
          }
      behind = before;
    }
    return possible;
  }

  private traced(end: number): Uint8Array {
    const values = new Uint8Array(this.asked.groups);
    let at = end;
    for (let group = this.asked.groups - 1; group >= 0; group--) {
      const from = this.by[group * CONTEXTS + at]!;
      values[group] = Math.floor(from / RUN_KINDS / TRAILS);
      at = contextOf(Math.floor(from / RUN_KINDS) % TRAILS, from % RUN_KINDS);
    }
    return values;
  }
}
