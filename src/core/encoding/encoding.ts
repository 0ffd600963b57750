/**
 * The one interface of all encodings: readings of a track in, sectors with positions and checks out; and sectors in,
 * cells out. Nothing outside this folder knows which encoding it is talking to.
 */
import type { TrackReading } from '../flux/reading';
import type { TrackFormat } from '../layout/layout';

/** How transitions were turned into cells; in the order in which they are tried. */
export const RECOVERIES = Object.freeze(['stepped', 'loop', 'loop-stiff', 'loop-quick', 'loop-shift'] as const);
export type Recovery = (typeof RECOVERIES)[number];

/** One appearance of a sector under the head: in one turn of one reading. Its ID field passed its check. */
export interface SectorSighting {
  /** ID field as recorded. */
  c: number;
  h: number;
  r: number;
  n: number;
  /** Bytes of its data field by the ID. */
  size: number;
  /** The data mark byte, or null where no data field followed the ID. */
  mark: number | null;
  /** Data field's bytes without its check; null where there was none. May be short where the reading ends in it. */
  data: Uint8Array | null;
  /** The data field's check passed. */
  dataOk: boolean;
  /** The two bytes of the check as read; −1 where there was no data field. */
  check: number;
  /** Bytes of the data field whose cells break the code's own rule: a field read right has none. */
  violations: number;
  /** Where the ID field's sync starts, and the end of the data field, in ticks from the reading's time 0. */
  startTick: number;
  endTick: number;
  recovery: Recovery;
}

/** What one reading gave under one recovery. */
export interface ReadingDecode {
  sightings: SectorSighting[];
  /** ID fields whose check failed. */
  badIds: number;
  /** Fitted length of a half cell in ticks; 0 where no rate could be found. */
  cellTicks: number;
}

/** A sector to be laid down. */
export interface SectorToWrite {
  c: number;
  h: number;
  r: number;
  n: number;
  data: Uint8Array;
  deleted?: boolean;
}

export interface DecodeOptions {
  tickHz: number;
  recovery: Recovery;
  /** Half cell in ticks of a neighbouring track, or 0. */
  cellHint: number;
  /** Where given: after this many ticks the decoder asks whether what it has is enough, and stops if so. */
  enough?: { afterTicks: number; test: (sightings: readonly SectorSighting[], badIds: number) => boolean };
}

export interface Encoding {
  readonly id: TrackFormat['encoding'];
  /** Decodes one reading. Damage is a result, never an exception. */
  decode(reading: TrackReading, options: DecodeOptions): ReadingDecode;
  /** Lays sectors out as one turn of cells, one byte a half cell, 1 = transition. Throws RangeError where they do not fit. */
  encode(sectors: readonly SectorToWrite[], format: TrackFormat, turnCells: number): Uint8Array;
}
