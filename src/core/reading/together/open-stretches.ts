/**
 * Which stretches of a track are still to be read: what lies between the sectors that one turn gave
 * whole, beside a strong check. The work on a hurt track goes with what is hurt of it.
 */
import type { TrackReading } from '@/core/flux/reading';
import { placeOf, startOfTurn, type ClockedReading } from './turn-views';

/** A sector that is sound already, where one turn of a reading has it. */
export interface KnownSector {
  reading: TrackReading;
  turn: number;
  startTick: number;
  endTick: number;
}

/** In cells from the start of the track, `to` not included. */
export interface Stretch {
  from: number;
  to: number;
}

/** Cells of a known sector that are looked at beside what is open. */
const EDGE = 64;
/** A stretch shorter than this share of the shortest known sector holds none. */
const LEAST_SHARE = 0.5;

/** The open stretches of a track of `cells` a turn, read up to `end`, in their order. */
export function openStretches(
  readings: readonly ClockedReading[],
  known: readonly KnownSector[],
  cells: number,
  end: number,
): Stretch[] {
  const places = known.flatMap((sector) => placeOfSector(readings, sector));
  const shortest = Math.min(...places.map(({ from, to }) => to - from));
  // One known sector is read with the rest: it shows how far behind its ID the data lie.
  const taken = places
    .slice(1)
    .flatMap(({ from, to }) =>
      [-cells, 0, cells].map((turn) => ({ from: from + turn + EDGE, to: to + turn - EDGE })),
    )
    .sort((a, b) => a.from - b.from);
  const open: Stretch[] = [];
  let at = 0;
  for (const { from, to } of [...taken, { from: end, to: end }]) {
    if (Math.min(from, end) - at >= (places.length > 0 ? LEAST_SHARE * shortest : 1))
      open.push({ from: at, to: Math.min(from, end) });
    at = Math.max(at, to);
  }
  return open;
}

function placeOfSector(
  readings: readonly ClockedReading[],
  { reading, turn, startTick, endTick }: KnownSector,
): Stretch[] {
  const clocked = readings.find((each) => each.reading === reading);
  if (!clocked) return [];
  const start = startOfTurn(clocked, turn);
  const from = Math.round(placeOf(clocked, startTick) - start);
  const to = Math.round(placeOf(clocked, endTick) - start);
  return to - from > 2 * EDGE ? [{ from, to }] : [];
}
