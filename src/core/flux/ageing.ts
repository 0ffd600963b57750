/**
 * Ages a perfect turn as old media and tired drives do: jitter that grows inward, places that are
 * weak and differ each
 * time, dropouts that do not, a dirty head, a drive a little off its speed. Seeded: the same seed
 * gives the same disk.
 */
import { seededRandom, type Random } from '../bits/random';
import { shiftDirection } from './precompensation';
import { packTimes, type TurnTransitions } from './synthesis';
import type { TrackReading } from './reading';

/** A stretch of one track, in shares of a turn. */
export interface Stretch {
  cylinder: number;
  head: number;
  from: number;
  to: number;
}

export interface Ageing {
  seed: string;
  /** Standard deviation of a transition's place on the outermost cylinder, in nanoseconds. */
  jitterNs: number;
  /** The same, at the innermost cylinder, as a multiple. */
  innerFactor: number;
  /**
   * How far two transitions two half cells apart drive each other apart, in nanoseconds, innermost.
   */
  peakShiftNs: number;
  /** Read differently each time: transitions move, vanish and appear. */
  weak: readonly Stretch[];
  /** Transitions that are gone for good. */
  dropouts: readonly Stretch[];
  /** Written while the spindle faltered: cells grow by up to `by`, as a share, and shrink again. */
  stretched?: readonly (Stretch & { by: number })[];
  /**
   * Written by a head out of line: read well only a part of a step outward or inward of the track's
   * middle.
   */
  beside?: readonly { cylinder: number; head: number; towards: 'outward' | 'inward' }[];
  /** Dirt left on the head by one reading of one track, 0 … 1. */
  shedding: number;
}

interface ReadingConditions {
  cylinder: number;
  head: number;
  pass: number;
  cylinders: number;
  tickHz: number;
  /** Seconds of this turn, the drive's own error included. */
  turnSeconds: number;
  revolutions: number;
  /** Dirt on the head, 0 clean to 1 blind. */
  dirt: number;
}

const NANOSECOND = 1e-9;
const WEAK_JITTER_NS = 420;
const WEAK_LOSS = 0.12;
/** Jitter and losses of a head so dirty that it reads nothing. */
const DIRT_JITTER_NS = 500;
const DIRT_LOSS = 0.05;
/** Slow change of speed within a turn, as a share. */
const WOW = 0.004;
/** Transitions a second that a head makes out where nothing was ever written. */
const NOISE_HZ = 90_000;

const inside = (stretches: readonly Stretch[], place: number) =>
  stretches.some(({ from, to }) => place >= from && place < to);

function noiseTurn(random: Random, turnSeconds: number): Float64Array {
  const places = Array.from({ length: Math.floor(NOISE_HZ * turnSeconds) }, () => random.next());
  return Float64Array.from(places).sort();
}

/** Moments in order; they nearly are already, so that each goes past few others. */
function inOrder(times: readonly number[]): Float64Array {
  const ordered = Float64Array.from(times);
  for (let i = 1; i < ordered.length; i++) {
    const time = ordered[i]!;
    let at = i - 1;
    for (; at >= 0 && ordered[at]! > time; at--) ordered[at + 1] = ordered[at]!;
    ordered[at + 1] = time;
  }
  return ordered;
}

/**
 * The turn as a faltering spindle wrote it: within each stretch the cell swells and comes back,
 * what follows lies later.
 */
function stretchedTurn(
  turn: TurnTransitions,
  stretched: NonNullable<Ageing['stretched']>,
): TurnTransitions {
  return turn.map((place) =>
    stretched.reduce((moved, { from, to, by }) => {
      const within = Math.min(1, Math.max(0, (place - from) / (to - from)));
      // The integral of by · sin²(π·within) over the stretch.
      return (
        moved + by * (to - from) * (within / 2 - Math.sin(2 * Math.PI * within) / (4 * Math.PI))
      );
    }, place),
  );
}

/**
 * Places that differ each time need a stream that does: `reading` counts the readings of this
 * medium.
 */
export function simulateReading(
  turn: TurnTransitions | null,
  ageing: Ageing,
  at: ReadingConditions,
  reading: number,
): TrackReading {
  const random = seededRandom(`${ageing.seed}/${at.cylinder}/${at.head}/${reading}`);
  const here = ({ cylinder, head }: Stretch) => cylinder === at.cylinder && head === at.head;
  const weak = ageing.weak.filter(here);
  const dropouts = ageing.dropouts.filter(here);
  const depth = at.cylinders > 1 ? at.cylinder / (at.cylinders - 1) : 0;
  const jitter =
    ageing.jitterNs * (1 + (ageing.innerFactor - 1) * depth) + DIRT_JITTER_NS * at.dirt;
  const shift = ageing.peakShiftNs * depth;
  const nsOfTurn = NANOSECOND / at.turnSeconds;
  const turnTicks = at.turnSeconds * at.tickHz;
  const wowPhase = random.next() * 2 * Math.PI;
  const stretched = (ageing.stretched ?? []).filter(here);
  const times: number[] = [];
  for (let revolution = 0; revolution < at.revolutions; revolution++) {
    const laid = turn ?? noiseTurn(random, at.turnSeconds);
    const source = stretched.length > 0 ? stretchedTurn(laid, stretched) : laid;
    for (let i = 0; i < source.length; i++) {
      const place = source[i]!;
      if (dropouts.length > 0 && inside(dropouts, place)) continue;
      const isWeak = weak.length > 0 && inside(weak, place);
      if (isWeak && random.next() < WEAK_LOSS) continue;
      if (at.dirt > 0 && random.next() < DIRT_LOSS * at.dirt * at.dirt) continue;
      let moved =
        place +
        nsOfTurn *
          (random.normal() * (isWeak ? jitter + WEAK_JITTER_NS : jitter) +
            shift * shiftDirection(source, i));
      moved +=
        (WOW / (2 * Math.PI)) * (Math.sin(2 * Math.PI * moved + wowPhase) - Math.sin(wowPhase));
      times.push((revolution + moved) * turnTicks);
    }
  }
  const index = Array.from({ length: at.revolutions + 1 }, (_, i) => Math.round(i * turnTicks));
  return {
    cylinder: at.cylinder,
    head: at.head,
    pass: at.pass,
    index,
    flux: packTimes(inOrder(times).map((time) => Math.max(0, time))),
  };
}
