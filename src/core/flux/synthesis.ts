/**
 * Cells to transitions and back to intervals: what a write head lays down and a perfect drive would
 * read.
 */
import { writeUleb128Into } from '../bits/varint';
import type { TrackReading } from './reading';
import { IntervalBuffer } from './reading';

/**
 * One turn of a track as the places of its transitions, each a share of the turn from the index,
 * ascending.
 */
export type TurnTransitions = Float64Array;

/** Transitions of one turn of cells (one byte a cell, 1 = transition at the cell). */
export function transitionsOfCells(cells: Uint8Array): TurnTransitions {
  let count = 0;
  for (const cell of cells) count += cell;
  const places = new Float64Array(count);
  let at = 0;
  for (let i = 0; i < cells.length; i++) if (cells[i]) places[at++] = (i + 0.5) / cells.length;
  return places;
}

/**
 * Packs ascending times in ticks as the intervals between them; times that round to no advance are
 * left out.
 */
export function packTimes(times: Float64Array, count = times.length): Uint8Array {
  const out = new Uint8Array(count * 8);
  let at = 0;
  let last = 0;
  for (let i = 0; i < count; i++) {
    const time = Math.round(times[i]!);
    if (time <= last && i > 0) continue;
    at = writeUleb128Into(out, at, Math.max(0, time - last));
    last = time;
  }
  return out.slice(0, at);
}

/** Times of all transitions of a reading, in ticks from its time 0. */
function timesOfReading(reading: TrackReading, tickHz: number): Float64Array {
  const { ticks, count } = new IntervalBuffer().unpack(reading.flux, tickHz);
  const times = new Float64Array(count);
  let time = 0;
  for (let i = 0; i < count; i++) times[i] = time += ticks[i]!;
  return times;
}

/** A reading of `revolutions` perfect turns of `turnTicks` each, from the index. */
export function perfectReading(
  turn: TurnTransitions,
  place: Pick<TrackReading, 'cylinder' | 'head' | 'pass'>,
  turnTicks: number,
  revolutions: number,
): TrackReading {
  const times = new Float64Array(turn.length * revolutions);
  for (let revolution = 0; revolution < revolutions; revolution++) {
    for (let i = 0; i < turn.length; i++)
      times[revolution * turn.length + i] = (revolution + turn[i]!) * turnTicks;
  }
  const index = Array.from({ length: revolutions + 1 }, (_, i) => Math.round(i * turnTicks));
  return { ...place, index, flux: packTimes(times) };
}

/** The first whole turn of a reading, from one index pulse to the next; null where it has none. */
export function firstTurn(reading: TrackReading, tickHz: number): TurnTransitions | null {
  const [start, end] = reading.index;
  return start === undefined || end === undefined
    ? null
    : writtenTurn(reading, tickHz, end - start);
}

/**
 * The turn that a write of this reading's flux leaves on the medium: from the first index pulse,
 * one turn long.
 */
export function writtenTurn(
  reading: TrackReading,
  tickHz: number,
  turnTicks: number,
): TurnTransitions {
  const start = reading.index[0] ?? 0;
  const times = timesOfReading(reading, tickHz);
  const places = new Float64Array(times.length);
  let count = 0;
  for (const time of times) {
    const place = (time - start) / turnTicks;
    if (place >= 0 && place < 1) places[count++] = place;
  }
  return places.slice(0, count);
}
