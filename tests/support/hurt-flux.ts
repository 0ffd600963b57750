/**
 * Hurts a perfect turn as no encoder would: jitter, wow, peak shift, dropouts, stray transitions,
 * weak stretches, write
 * splices, a start anywhere. Not the stand-in's ageing: a decoder must not be tested with its own
 * idea of damage alone.
 */
import { seededRandom, type Random } from '@/core/bits/random';
import { encodeUleb128 } from '@/core/bits/varint';
import type { TurnTransitions } from '@/core/flux/synthesis';
import type { TrackReading } from '@/core/flux/reading';

export interface Hurt {
  seed: string;
  /** Deviation of each transition, in cells. */
  jitter: number;
  /** How far two transitions a shortest run apart drive each other apart, in cells. */
  peakShift: number;
  /** Share of the cell length by which speed swings within a turn. */
  wow: number;
  /** Share by which the drive is fast. */
  speed: number;
  /** Stretches without transitions, the same in every turn: how many, of up to how many cells. */
  dropouts: number;
  dropoutCells: number;
  /** Stretches in which transitions wander, differently each turn. */
  weak: number;
  weakCells: number;
  /** Transitions that were never written, a turn, differently each time. */
  extra: number;
  /**
   * Places at which a write began: the cells from there on are shifted by part of a cell, and a few
   * are spoilt.
   */
  splices: number;
}

/** From 0, a new disk, to 10, one that hardly reads. */
export function hurtOfLevel(level: number, seed: string): Hurt {
  return {
    seed,
    jitter: 0.02 + 0.02 * level,
    peakShift: 0.025 * level,
    wow: 0.001 * level,
    speed: 0.006 * level * (level % 2 ? 1 : -1),
    dropouts: 0.35 * level,
    dropoutCells: 4 + 3 * level,
    weak: 0.5 * level,
    weakCells: 20 + 12 * level,
    extra: 1.5 * level,
    splices: 0.25 * level,
  };
}

interface Stretch {
  from: number;
  to: number;
}

/** About `mean` stretches, of up to `cells` cells each, as shares of a turn. */
function stretches(random: Random, mean: number, cells: number, turnCells: number): Stretch[] {
  const count = Math.floor(mean) + (random.next() < mean % 1 ? 1 : 0);
  return Array.from({ length: count }, () => {
    const from = random.next();
    return { from, to: from + ((0.2 + 0.8 * random.next()) * cells) / turnCells };
  });
}

const inside = (all: readonly Stretch[], place: number) =>
  all.some(({ from, to }) => place >= from && place < to);

interface HurtReading {
  cylinder: number;
  head: number;
  pass: number;
  revolutions: number;
  tickHz: number;
  /** Seconds of a turn at the nominal speed. */
  turnSeconds: number;
  turnCells: number;
  /** Shortest run of the code, in cells. */
  shortestRun: number;
}

/**
 * A reading of `turn`; what is permanent on the medium depends on the seed and the track, the rest
 * on the pass too.
 */
export function hurtReading(turn: TurnTransitions, hurt: Hurt, at: HurtReading): TrackReading {
  const place = `${hurt.seed}/${at.cylinder}/${at.head}`;
  const medium = seededRandom(`medium ${place}`);
  const random = seededRandom(`pass ${place}/${at.pass}`);
  const { turnCells } = at;
  const dropouts = stretches(medium, hurt.dropouts, hurt.dropoutCells, turnCells);
  const splices = stretches(medium, hurt.splices, 8, turnCells).map((splice) => ({
    ...splice,
    shift: (medium.next() - 0.5) * 0.8,
  }));
  const weak = stretches(medium, hurt.weak, hurt.weakCells, turnCells);
  const ticksOfTurn = (at.turnSeconds * at.tickHz) / (1 + hurt.speed);
  const start = random.next();
  const swing = random.next() * 2 * Math.PI;
  const near = (1.5 * at.shortestRun) / turnCells;
  // Places within one turn that all turns of this reading share, then each turn's own noise.
  const times: number[] = [];
  for (let revolution = -1; revolution <= at.revolutions; revolution++) {
    for (let i = 0; i < turn.length; i++) {
      const ideal = turn[i]!;
      if (inside(dropouts, ideal)) continue;
      const isWeak = inside(weak, ideal);
      if (isWeak && random.next() < 0.06) continue;
      let cells = random.normal() * (isWeak ? hurt.jitter + 0.25 : hurt.jitter);
      const before = i > 0 ? ideal - turn[i - 1]! : 1;
      const behind = i + 1 < turn.length ? turn[i + 1]! - ideal : 1;
      cells += hurt.peakShift * ((before < near ? 1 : 0) - (behind < near ? 1 : 0));
      for (const splice of splices) {
        if (ideal < splice.from) continue;
        // Behind a splice the phase is off until the sector that was written there ends.
        if (ideal < splice.from + 0.1) cells += splice.shift;
        if (ideal < splice.to) cells += random.normal() * 0.4;
      }
      times.push(revolution + ideal + cells / turnCells);
    }
    for (let i = 0; i < hurt.extra; i++)
      if (random.next() < Math.min(1, hurt.extra - i)) times.push(revolution + random.next());
  }
  const wander = (share: number) =>
    share + (hurt.wow / (2 * Math.PI)) * (Math.sin(2 * Math.PI * share + swing) - Math.sin(swing));
  const ticks = times
    .map((time) => (wander(time) - wander(start)) * ticksOfTurn)
    .filter((tick) => tick >= 0 && tick < at.revolutions * ticksOfTurn)
    .sort((a, b) => a - b);
  let last = 0;
  const intervals: number[] = [];
  for (const tick of ticks) {
    const interval = Math.round(tick - last);
    if (interval <= 0) continue;
    intervals.push(interval);
    last += interval;
  }
  const index = [];
  for (let pulse = 1; ; pulse++) {
    const tick = (wander(pulse) - wander(start)) * ticksOfTurn;
    if (tick >= at.revolutions * ticksOfTurn) break;
    index.push(Math.round(tick));
  }
  return {
    cylinder: at.cylinder,
    head: at.head,
    pass: at.pass,
    index,
    flux: encodeUleb128(intervals),
  };
}
