/**
 * One track under the loupe: for every turn of every reading the intervals as a ribbon round the
 * turn, counted on the
 * same axis, what a recovery took for the cell along the way, and every sector as that turn alone
 * shows it.
 */
import { CRC16_INITIAL, crc16 } from '@/core/bits/crc16';
import {
  LOOPS,
  RUNS,
  createEncodings,
  recoverByLoop,
  type RecoverySetting,
  type WholeRecovery,
} from '@/core/encoding';
import { IntervalBuffer, type TrackReading } from '@/core/flux/reading';
import type { EncodingId } from '@/core/layout/layout';
import type { Encoding, SectorSighting } from '@/core/encoding/encoding';
import { spreadBetween, timingOfTurn, type TimingPart } from '../decode/timing';
import type { DriveFacts } from '../decode/track-work';
import { angleAt, nominalTurn, turnTicks } from '../decode/turn';

/** Intervals of one turn, sorted into columns of time and rows of length. */
export interface Ribbon {
  columns: number;
  rows: number;
  /** How many intervals fall into each cell, row by row from the shortest; columns × rows. */
  density: Uint16Array;
  /** The margin: how many in each row. */
  counts: Uint32Array;
  /** What the recovery took for a cell in each column, in ticks; 0 where it met nothing. */
  cell: Float32Array;
  /** Ticks that the axis spans. */
  longest: number;
}

/** A sector as one turn shows it. */
export interface LoupeSighting {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  size: number;
  angle: number;
  span: number;
  mark: number | null;
  data: Uint8Array | null;
  dataOk: boolean;
  /**
   * The check as read, and as the bytes read make it; null where the code has none of 16 bits, or
   * it was not read.
   */
  check: number | null;
  made: number | null;
  /** Cells that break the code's own rule. */
  violations: number;
  /** Root mean square of its transitions' distance from their raster, in ticks. */
  spread: number;
  /**
   * Cells of the data field from its mark on as the recovery has them, 1 for a transition; empty
   * where there is no field.
   */
  cells: Uint8Array;
}

export interface LoupeTurn {
  /** Which of the track's readings, from 0, and which turn of it. */
  reading: number;
  pass: number;
  turn: number;
  ribbon: Ribbon;
  sightings: LoupeSighting[];
}

export interface LoupeRequest {
  readings: readonly TrackReading[];
  drive: DriveFacts;
  encoding: EncodingId;
  /** Fitted code cell in ticks. */
  cellTicks: number;
  /** A setting of a person's own; null reads plainly. */
  setting: RecoverySetting | null;
  /** The part of the turn that is looked at, in shares. */
  from: number;
  to: number;
  columns: number;
  rows: number;
}

/** Cells that the axis of a ribbon spans: the longest run of any code, and some. */
const AXIS_CELLS = 5;
const TIMING_PARTS = 256;

export function analyseTrack({
  readings,
  drive,
  encoding,
  cellTicks,
  setting,
  from,
  to,
  columns,
  rows,
}: LoupeRequest): LoupeTurn[] {
  const encodings = createEncodings();
  const nominal = nominalTurn(drive.tickHz, drive.rpm);
  const recovery: WholeRecovery = setting ? 'by-hand' : 'stepped';
  return readings.flatMap((reading, at) => {
    const turns = Math.max(1, reading.index.length - 1);
    const length = turnTicks(reading, nominal);
    const { sightings } = encodings(encoding).decode(reading, {
      tickHz: drive.tickHz,
      recovery,
      cellTicks,
      ...(setting && { setting }),
    });
    const runs = runsOf(reading, drive.tickHz, { cellTicks, setting, encoding });
    const ribbons = ribbonsOf(reading, runs, { cellTicks, from, to, columns, rows, length });
    return Array.from({ length: turns }, (_, turn): LoupeTurn => {
      const timing = timingOfTurn(
        reading,
        drive.tickHz,
        cellTicks,
        reading.index[turn] ?? 0,
        length,
        TIMING_PARTS,
      );
      const look = (placed: PlacedSighting) =>
        lookAt(placed, {
          encoding,
          cellTicks,
          length,
          timing,
          runs,
          ofEncoding: encodings(encoding),
        });
      const own = sightings
        .map((sighting) => ({ sighting, ...angleAt(reading, sighting.startTick, nominal) }))
        .filter((placed) => placed.turn === turn);
      return {
        reading: at,
        pass: reading.pass,
        turn,
        ribbon: ribbons[turn]!,
        sightings: own.map(look),
      };
    });
  });
}

interface PlacedSighting {
  sighting: SectorSighting;
  angle: number;
}

/** What a sighting of a turn is looked at with. */
interface LookGiven {
  encoding: EncodingId;
  cellTicks: number;
  /** Ticks of the turn. */
  length: number;
  timing: readonly TimingPart[];
  runs: Runs;
  ofEncoding: Encoding;
}

function lookAt(
  { sighting, angle }: PlacedSighting,
  { encoding, cellTicks, length, timing, runs, ofEncoding }: LookGiven,
): LoupeSighting {
  const { c, h, r, n, size, mark, data, dataOk, check, violations } = sighting;
  const span = (sighting.endTick - sighting.startTick) / length;
  return {
    c,
    h,
    r,
    n,
    size,
    angle,
    span,
    mark,
    data,
    dataOk,
    violations,
    check: check < 0 ? null : check,
    made: madeCheck(encoding, mark, data),
    spread: (spreadBetween(timing, angle, span) ?? 0) * cellTicks,
    cells:
      mark === null
        ? new Uint8Array(0)
        : cellsFrom(runs, sighting.syncTick, sighting.syncCells, ofEncoding.fieldCells(size)),
  };
}

/** The check that a data field of these bytes should have. */
function madeCheck(
  encoding: EncodingId,
  mark: number | null,
  data: Uint8Array | null,
): number | null {
  if (mark === null || !data || (encoding !== 'mfm' && encoding !== 'fm')) return null;
  const head = encoding === 'mfm' ? [0xa1, 0xa1, 0xa1, mark] : [mark];
  return crc16(data, 0, data.length, crc16(Uint8Array.from(head), 0, head.length, CRC16_INITIAL));
}

interface Runs {
  ticks: Int32Array;
  runs: Uint8Array;
}

/** Every interval with the run of cells that the recovery makes of it. */
function runsOf(
  { flux }: TrackReading,
  tickHz: number,
  { cellTicks, setting, encoding }: Pick<LoupeRequest, 'cellTicks' | 'setting' | 'encoding'>,
): Runs {
  const intervals = new IntervalBuffer().unpack(flux, tickHz);
  const runs = new Uint8Array(intervals.count);
  recoverByLoop(intervals, cellTicks, setting ?? LOOPS.loop, RUNS[encoding], runs);
  return { ticks: intervals.ticks.slice(0, intervals.count), runs };
}

/** Cells of a field that starts `syncCells` cells behind the transition at `syncTick`. */
function cellsFrom(
  { ticks, runs }: Runs,
  syncTick: number,
  syncCells: number,
  count: number,
): Uint8Array {
  const cells = new Uint8Array(count);
  let time = 0;
  let at = 0;
  while (at < runs.length && time < syncTick) time += ticks[at++]!;
  for (let place = -syncCells; at < runs.length && place < count; at++) {
    if (place >= 0) cells[place] = 1;
    place += runs[at]!;
  }
  return cells;
}

type RibbonRequest = Pick<LoupeRequest, 'cellTicks' | 'from' | 'to' | 'columns' | 'rows'> & {
  length: number;
};

function ribbonsOf(
  { index }: TrackReading,
  { ticks: intervals, runs }: Runs,
  { cellTicks, from, to, columns, rows, length }: RibbonRequest,
): Ribbon[] {
  const longest = cellTicks * AXIS_CELLS;
  const starts = index.length > 1 ? index.slice(0, -1) : [index[0] ?? 0];
  const ribbons = starts.map((): Ribbon & { ticks: Float64Array; cells: Float64Array } => ({
    columns,
    rows,
    density: new Uint16Array(columns * rows),
    counts: new Uint32Array(rows),
    cell: new Float32Array(columns),
    longest,
    ticks: new Float64Array(columns),
    cells: new Float64Array(columns),
  }));
  let time = 0;
  let turn = 0;
  for (let i = 0; i < runs.length; i++) {
    const interval = intervals[i]!;
    time += interval;
    while (turn + 1 < starts.length && time >= starts[turn + 1]!) turn++;
    const angle = (time - starts[turn]!) / length;
    if (angle < from || angle >= to || angle < 0 || angle >= 1) continue;
    const ribbon = ribbons[turn]!;
    const column = Math.min(columns - 1, Math.floor(((angle - from) / (to - from)) * columns));
    const row = Math.min(rows - 1, Math.floor((interval / longest) * rows));
    ribbon.density[row * columns + column]!++;
    ribbon.counts[row]!++;
    // Runs beyond what the code has say nothing of the cell.
    if (interval < longest) {
      ribbon.ticks[column]! += interval;
      ribbon.cells[column]! += runs[i]!;
    }
  }
  return ribbons.map(({ ticks, cells, ...ribbon }) => {
    for (let column = 0; column < columns; column++)
      ribbon.cell[column] = cells[column]! > 0 ? ticks[column]! / cells[column]! : 0;
    return ribbon;
  });
}

/** Places at which readings of one sector differ: for each byte whether all that have it agree. */
export function differingBytes(sightings: readonly Pick<LoupeSighting, 'data'>[]): number[] {
  const all = sightings.flatMap(({ data }) => (data ? [data] : []));
  const [first] = all;
  if (!first) return [];
  return Array.from({ length: first.length }, (_, i) => i).filter((i) =>
    all.some((data) => data[i] !== first[i]),
  );
}
