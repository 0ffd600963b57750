/** Sightings of fields that stand alone: made from what a rescue read, and put in groups. */
import { type FieldStart, type SectorSighting, type SoftField } from '@/core/encoding';
import { type TrackReading } from '@/core/flux/reading';
import type { PlacedSighting } from '../track-sector';
import { angleAt } from './turn';
import type { PlacedStart } from './placed-start';

/** Angles of one field in two turns differ by less, as a share of the turn. */
const SAME_FIELD = 0.004;

export function sightingOf(
  placed: PlacedSighting,
  { mark, data, check }: SoftField,
  mending: NonNullable<PlacedSighting['mending']>,
): PlacedSighting {
  return {
    ...placed,
    mending,
    sighting: {
      ...placed.sighting,
      mark,
      data,
      check,
      dataOk: true,
      violations: 0,
      intact: false,
      recovery: 'likelihood',
    },
  };
}

export function emptySighting(encoding: SectorSighting['encoding']): SectorSighting {
  return {
    encoding,
    c: 0,
    h: null,
    r: 0,
    n: null,
    idExtra: null,
    size: 0,
    mark: null,
    data: null,
    dataOk: false,
    check: -1,
    violations: 0,
    intact: true,
    startTick: 0,
    endTick: 0,
    syncTick: 0,
    syncCells: 0,
    recovery: 'likelihood',
  };
}

/** Starts at one angle, each turn once. */
export function clusters(starts: readonly PlacedStart[]): PlacedStart[][] {
  const found: PlacedStart[][] = [];
  for (const start of starts) {
    const near = found.find(([first]) => Math.abs(first!.angle - start.angle) < SAME_FIELD);
    if (!near) found.push([start]);
    else if (!near.some(({ reading, turn }) => reading === start.reading && turn === start.turn))
      near.push(start);
  }
  return found;
}

/** A field start with its turn and angle. */
export function placeStart(
  start: FieldStart,
  reading: TrackReading,
  at: number,
  nominalTurn: number,
): PlacedStart {
  return {
    ...start,
    reading: at,
    pass: reading.pass,
    ...angleAt(reading, start.syncTick, nominalTurn),
  };
}
