/**
 * Decodes one track from all its readings: the plain recovery first, the dearer recoveries only where something is
 * missing or fails.
 */
import { RECOVERIES, type Encoding, type Recovery, type SectorSighting } from '../encoding';
import type { TrackReading } from '../flux/reading';
import { bytesOfSizeCode, type Layout } from '../layout/layout';
import { isSound } from './grades';
import { missingSector, settleTrack, type PlacedSighting, type TrackSector } from './merge';
import { angleAt, nominalTurn, turnTicks } from './turn';

export interface DriveFacts {
  tickHz: number;
  rpm: number;
}

export interface TrackDecode {
  cylinder: number;
  head: number;
  sectors: TrackSector[];
  /** Half cell in ticks over the readings, 0 where no rate was found. */
  cellTicks: number;
  readings: number;
}

/**
 * Which turns are decoded: all of them, so that it shows how often each sector reads, or only as many as it takes
 * until every sector was read with a right check.
 */
export type Turns = 'all' | 'as-needed';

const idOf = ({ r, n }: { r: number; n: number }) => r * 256 + n;

/** Holds the scratch and what neighbouring tracks taught; one a thread. */
export class TrackDecoder {
  private cellHint = 0;
  /** Numbers and sizes on the last track that was read whole. */
  private lastIds: ReadonlySet<number> | null = null;

  constructor(private readonly encoding: Encoding, private readonly drive: DriveFacts, private readonly turns: Turns) {}

  /**
   * `readings` are all of one track, in the order read. With a layout its missing sectors are looked for harder and
   * listed as lost; without one only what was found counts.
   */
  decode(readings: readonly TrackReading[], layout: Layout | null): TrackDecode {
    const { cylinder, head } = readings[0]!;
    const firstPass = Math.min(...readings.map(({ pass }) => pass));
    const expected = layout ? layoutIds(layout, cylinder, head) : this.lastIds;
    const sightings: PlacedSighting[] = [];
    let cellTicks = 0;
    let sectors: TrackSector[] = [];
    for (const recovery of RECOVERIES) {
      let badIds = 0;
      for (const [at, reading] of readings.entries()) {
        const decoded = this.place(reading, at, recovery, expected, sightings);
        badIds += decoded.badIds;
        if (decoded.cellTicks > 0) cellTicks = this.cellHint = decoded.cellTicks;
        if (this.turns === 'as-needed' && isEnough(decoded.sightings, decoded.badIds, expected)) break;
      }
      sectors = settleTrack(cylinder, head, sightings, firstPass);
      const missing = layout ? missingSectors(layout, cylinder, head, sectors) : [];
      if (sectors.every(({ grade }) => isSound(grade)) && missing.length === 0 && (layout || badIds === 0)) {
        this.lastIds = new Set(sectors.map(idOf));
        break;
      }
      // Nothing to work on: an unformatted track stays so under any recovery.
      if (cellTicks === 0) break;
    }
    if (layout) sectors = [...sectors, ...missingSectors(layout, cylinder, head, sectors)];
    return { cylinder, head, sectors, cellTicks, readings: readings.length };
  }

  private place(reading: TrackReading, at: number, recovery: Recovery, expected: ReadonlySet<number> | null, into: PlacedSighting[]) {
    const { tickHz, rpm } = this.drive;
    const nominal = nominalTurn(tickHz, rpm);
    const turn = turnTicks(reading, nominal);
    const enough = this.turns === 'as-needed' && expected
      ? { afterTicks: turn, test: (seen: readonly SectorSighting[], badIds: number) => isEnough(seen, badIds, expected) }
      : undefined;
    const decoded = this.encoding.decode(reading, { tickHz, recovery, cellHint: this.cellHint, enough });
    for (const sighting of decoded.sightings) {
      const placed = angleAt(reading, sighting.startTick, nominal);
      into.push({ sighting, reading: at, pass: reading.pass, ...placed, span: (sighting.endTick - sighting.startTick) / turn });
    }
    return decoded;
  }
}

/** Every expected sector, and every other one seen, was read with a right check and without a broken clock. */
function isEnough(sightings: readonly SectorSighting[], badIds: number, expected: ReadonlySet<number> | null): boolean {
  if (!expected || badIds > 0) return false;
  const sound = new Set<number>();
  for (const sighting of sightings) {
    if (!sighting.dataOk || sighting.violations > 0) return false;
    sound.add(idOf(sighting));
  }
  for (const id of expected) if (!sound.has(id)) return false;
  return true;
}

function layoutIds(layout: Layout, cylinder: number, head: number): ReadonlySet<number> {
  return new Set(cylinder < layout.cylinders && head < layout.heads ? layout.track.sectors.map(idOf) : []);
}

/** Sectors of the layout that belong on this track and are not among `sectors`, as lost. */
function missingSectors(layout: Layout, cylinder: number, head: number, sectors: readonly TrackSector[]): TrackSector[] {
  if (cylinder >= layout.cylinders || head >= layout.heads) return [];
  const found = new Set(sectors.map(idOf));
  return layout.track.sectors
    .filter((sector) => !found.has(idOf(sector)))
    .map(({ r, n }) => missingSector(cylinder, head, r, n, bytesOfSizeCode(n), 'lost'));
}
