/** Where in a turn a moment of a reading lies. */
import type { TrackReading } from '@/core/flux/reading';

interface Angle {
  /** Turn within the reading, from 0; −1 before the first index pulse. */
  turn: number;
  /** Share of the turn from its index pulse, 0 ≤ angle < 1. */
  angle: number;
}

/** Ticks of a turn where the reading's own pulses do not say. */
export function nominalTurn(tickHz: number, rpm: number): number {
  return (tickHz * 60) / rpm;
}

/** Mean ticks of a turn of this reading, or the nominal. */
export function turnTicks(reading: Pick<TrackReading, 'index'>, nominal: number): number {
  const { index } = reading;
  return index.length > 1 ? (index[index.length - 1]! - index[0]!) / (index.length - 1) : nominal;
}

/** Turn and angle of `tick`; without any index pulse the reading's start counts as one. */
export function angleAt(
  reading: Pick<TrackReading, 'index'>,
  tick: number,
  nominal: number,
): Angle {
  const { index } = reading;
  if (index.length === 0) return { turn: Math.floor(tick / nominal), angle: (tick / nominal) % 1 };
  let pulse = index.length - 1;
  while (pulse >= 0 && index[pulse]! > tick) pulse--;
  const mean = turnTicks(reading, nominal);
  if (pulse < 0) {
    const angle = 1 - (index[0]! - tick) / mean;
    return { turn: -1, angle: angle - Math.floor(angle) };
  }
  const length = pulse + 1 < index.length ? index[pulse + 1]! - index[pulse]! : mean;
  return { turn: pulse, angle: ((tick - index[pulse]!) / length) % 1 };
}

/** Shorter way between two angles, 0 … ½. */
export function angleBetween(a: number, b: number): number {
  const distance = Math.abs(a - b) % 1;
  return Math.min(distance, 1 - distance);
}
