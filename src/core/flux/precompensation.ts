/**
 * Write pre-compensation: two transitions that are near one another drive each other apart when
 * they are read, the more
 * the slower the disk passes the head; so they are laid down nearer than they are meant to come
 * back.
 */
import type { EncodingId } from '../layout/layout';
import type { TurnTransitions } from './synthesis';

/**
 * Which way a transition is pushed by its neighbours: +1 away from a near one before it, −1 from a
 * near one behind.
 */
export function shiftDirection(turn: TurnTransitions, i: number): -1 | 0 | 1 {
  if (i === 0 || i + 1 >= turn.length) return 0;
  const before = turn[i]! - turn[i - 1]!;
  const after = turn[i + 1]! - turn[i]!;
  return before < after * 0.75 ? 1 : after < before * 0.75 ? -1 : 0;
}

/**
 * What controllers of the time used on the inner tracks, in nanoseconds, of MFM at these data
 * rates.
 */
const USUAL_NS = 125;
/** Outer share of the cylinders that is written as it is. */
const UNTOUCHED = 0.5;

/**
 * Nanoseconds for one track: none on outer cylinders, and none in codes whose transitions lie far
 * enough apart.
 */
export function precompensationNs(
  encoding: EncodingId,
  cylinder: number,
  cylinders: number,
): number {
  return encoding === 'mfm' && cylinder >= cylinders * UNTOUCHED ? USUAL_NS : 0;
}

/** The turn with each transition moved against its push, by `ns` of a turn of `turnSeconds`. */
export function precompensated(
  turn: TurnTransitions,
  ns: number,
  turnSeconds: number,
): TurnTransitions {
  if (ns === 0) return turn;
  const by = (ns * 1e-9) / turnSeconds;
  return turn.map((place, i) => place - by * shiftDirection(turn, i));
}
