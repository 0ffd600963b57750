/**
 * Ages a perfect turn as old media and tired drives do: jitter that grows inward, places that are
 * weak and differ each
 * time, dropouts that do not, a dirty head, a drive a little off its speed. Seeded: the same seed
 * gives the same disk.
 */
import { seededRandom, sineOfTurn, type Random } from '../bits/random';
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

/** Puts the first `count` moments in order; they nearly are, so that each goes past few others. */
function order(times: Float64Array, count: number): void {
  for (let i = 1; i < count; i++) {
    const time = times[i]!;
    let at = i - 1;
    for (; at >= 0 && times[at]! > time; at--) times[at + 1] = times[at]!;
    times[at + 1] = time;
  }
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

/** What ageing and the drive do to the transitions of one track. */
interface Wear {
  weak: readonly Stretch[];
  dropouts: readonly Stretch[];
  stretched: NonNullable<Ageing['stretched']>;
  /** In shares of a turn. */
  jitter: number;
  weakJitter: number;
  shift: number;
  /** Share of the transitions that dirt hides. */
  loss: number;
}

function wearAt(ageing: Ageing, at: ReadingConditions): Wear {
  const here = ({ cylinder, head }: Stretch) => cylinder === at.cylinder && head === at.head;
  const depth = at.cylinders > 1 ? at.cylinder / (at.cylinders - 1) : 0;
  const jitter =
    ageing.jitterNs * (1 + (ageing.innerFactor - 1) * depth) + DIRT_JITTER_NS * at.dirt;
  const nsOfTurn = NANOSECOND / at.turnSeconds;
  return {
    weak: ageing.weak.filter(here),
    dropouts: ageing.dropouts.filter(here),
    stretched: (ageing.stretched ?? []).filter(here),
    jitter: nsOfTurn * jitter,
    weakJitter: nsOfTurn * (jitter + WEAK_JITTER_NS),
    shift: nsOfTurn * ageing.peakShiftNs * depth,
    loss: at.dirt > 0 ? DIRT_LOSS * at.dirt * at.dirt : 0,
  };
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
  const wear = wearAt(ageing, at);
  const turnTicks = at.turnSeconds * at.tickHz;
  const wowPhase = random.next();
  const laid = Array.from({ length: at.revolutions }, () => {
    const source = turn ?? noiseTurn(random, at.turnSeconds);
    return wear.stretched.length > 0 ? stretchedTurn(source, wear.stretched) : source;
  });
  const times = new Float64Array(laid.reduce((sum, { length }) => sum + length, 0));
  let count = 0;
  for (const [revolution, source] of laid.entries())
    count = readTurn(source, wear, random, { revolution, wowPhase, turnTicks }, times, count);
  order(times, count);
  for (let i = 0; i < count && times[i]! < 0; i++) times[i] = 0;
  const index = Array.from({ length: at.revolutions + 1 }, (_, i) => Math.round(i * turnTicks));
  const { cylinder, head, pass } = at;
  return { cylinder, head, pass, index, flux: packTimes(times, count) };
}

interface TurnRead {
  revolution: number;
  wowPhase: number;
  turnTicks: number;
}

/** The moments at which a head meets the transitions of one turn, in ticks; gives how many stand. */
function readTurn(
  source: TurnTransitions,
  { weak, dropouts, jitter, weakJitter, shift, loss }: Wear,
  random: Random,
  { revolution, wowPhase, turnTicks }: TurnRead,
  times: Float64Array,
  from: number,
): number {
  const wow = WOW / (2 * Math.PI);
  const wowAtIndex = sineOfTurn(wowPhase);
  let count = from;
  for (let i = 0; i < source.length; i++) {
    const place = source[i]!;
    if (dropouts.length > 0 && inside(dropouts, place)) continue;
    const isWeak = weak.length > 0 && inside(weak, place);
    if (isWeak && random.next() < WEAK_LOSS) continue;
    if (loss > 0 && random.next() < loss) continue;
    const pushed = shift === 0 ? 0 : shift * shiftDirection(source, i);
    const spread = isWeak ? weakJitter : jitter;
    const moved = place + (spread === 0 ? 0 : random.normal() * spread) + pushed;
    times[count++] =
      (revolution + moved + wow * (sineOfTurn(moved + wowPhase) - wowAtIndex)) * turnTicks;
  }
  return count;
}
