/**
 * The one interface of all encodings: readings of a track in, sectors with positions and checks
 * out; and sectors in,
 * cells out. Nothing outside this folder knows which encoding it is talking to.
 */
import type { TrackReading } from '../flux/reading';
import type { EncodingId, TrackFormat } from '../layout/layout';
import type { CellGains } from './recovery/cell-gains';

/**
 * How transitions were turned into cells; those of whole readings in the order in which they are
 * tried.
 */
export const RECOVERIES = Object.freeze([
  'stepped',
  'loop',
  'loop-stiff',
  'loop-quick',
  'loop-shift',
  'loop-shift-strong',
] as const);
/**
 * `likelihood` reads single fields, over one turn or several; `by-hand` is a loop as a person set
 * it; `told` was decoded by the drive itself.
 */
export type Recovery = (typeof RECOVERIES)[number] | 'likelihood' | 'by-hand' | 'told';

/** A loop's settings, as a person may try them on a track. */
export interface RecoverySetting {
  /** Share of a transition's error taken for a true shift of phase; 1 forgets it at once. */
  phaseGain: number;
  /** Share of the error put into the cell length. */
  rateGain: number;
  /**
   * Share of a run's error towards its neighbours put back: peak shift drives close transitions
   * apart.
   */
  shiftGain: number;
  /** How far the cell may come to lie from where it started, as a share. */
  drift: number;
  /** The cell to start from, as a multiple of the one that was fitted. */
  cell: number;
}

/** What each part of a setting may be; the form, the server and the decoder keep to it. */
export const SETTING_LIMITS: Readonly<Record<keyof RecoverySetting, readonly [number, number]>> =
  Object.freeze({
    phaseGain: [0.02, 1],
    rateGain: [0, 0.3],
    shiftGain: [0, 0.5],
    drift: [0, 0.45],
    cell: [0.6, 1.6],
  });

/**
 * One appearance of a sector under the head: in one turn of one reading. Its ID field passed its
 * check.
 */
export interface SectorSighting {
  encoding: EncodingId;
  /** ID field as recorded; null what the encoding does not record. */
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  /** Further bytes of the ID field, by name: a volume, a disk's id. */
  idExtra: Readonly<Record<string, number>> | null;
  /** Bytes of its data field by the ID. */
  size: number;
  /** The data mark byte, or null where no data field followed the ID. */
  mark: number | null;
  /**
   * Data field's bytes without its check; null where there was none. May be short where the reading
   * ends in it.
   */
  data: Uint8Array | null;
  /** The data field's check passed. */
  dataOk: boolean;
  /** The check as read; −1 where there was no data field, or not all of it. */
  check: number;
  /**
   * Places of the data field whose cells break the code's own rule: a field read right has none.
   */
  violations: number;
  /**
   * What stands beside the data field (gaps, sync, what ends it) is as it should be: counts where
   * the check is weak.
   */
  intact: boolean;
  /**
   * Where the ID field's sync starts, and the end of the data field, in ticks from the reading's
   * time 0.
   */
  startTick: number;
  endTick: number;
  /**
   * The transition that ended the data field's sync, and the cells from there to the field's first;
   * 0 ticks where there was none.
   */
  syncTick: number;
  syncCells: number;
  recovery: Recovery;
}

/**
 * A field by its sync alone: the transition that ended it, in ticks, and the cells from there to
 * the field's first.
 */
export interface FieldStart {
  syncTick: number;
  syncCells: number;
}

/** What one reading gave under one recovery. */
export interface ReadingDecode {
  sightings: SectorSighting[];
  /** ID fields whose check failed, as often as a sync leads to them. */
  badIds: FieldStart[];
  /** Data fields that follow no ID that could be read, likewise; only where the check is strong. */
  strays: FieldStart[];
  /** Fitted length of a code cell in ticks; 0 where no rate could be found. */
  cellTicks: number;
}

/** A sector to be laid down. */
export interface SectorToWrite {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  idExtra?: Readonly<Record<string, number>> | null;
  data: Uint8Array;
  deleted?: boolean;
  /** The data field's check is laid down wrong, as some disks were made (FM and MFM). */
  wrongCheck?: boolean;
}

/** Recoveries that turn a whole reading into cells. */
export type WholeRecovery = Exclude<Recovery, 'likelihood' | 'told'>;

export interface DecodeOptions {
  tickHz: number;
  recovery: WholeRecovery;
  /** With `by-hand`. */
  setting?: RecoverySetting;
  /** Code cell in ticks, as `rate.ts` found it. */
  cellTicks: number;
  /**
   * Where given: after this many ticks the decoder asks whether what it has is enough, and stops if
   * so.
   */
  enough?: {
    afterTicks: number;
    test: (sightings: readonly SectorSighting[], badIds: number) => boolean;
  };
}

/** A field read from what speaks for a transition in each of its cells. */
export interface SoftField {
  mark: number;
  data: Uint8Array;
  check: number;
  /** The check passes. */
  ok: boolean;
  /** Places at which another reading of the cells is nearly as likely, the least certain first. */
  doubts: SoftDoubt[];
}

export interface SoftDoubt {
  /** Which bit or group of the field. */
  place: number;
  /** By how much the best reading is better than the best with something else here. */
  margin: number;
}

/** How many bits the check of a data field has; what it can vouch for follows from it. */
export type CheckStrength = 'strong' | 'weak';

export interface Encoding {
  readonly id: EncodingId;
  readonly check: CheckStrength;
  /** Decodes one reading. Damage is a result, never an exception. */
  decode(reading: TrackReading, options: DecodeOptions): ReadingDecode;
  /** Cells of a data field of `size` bytes from its mark to its check. */
  fieldCells(size: number): number;
  /**
   * Reads a data field from gains whose cell 0 is the field's first; `flips` are places at which
   * the second best is to be taken.
   */
  readField(gains: CellGains, size: number, flips?: readonly number[]): SoftField;
  /**
   * Reads an ID field in the same way; null where its check fails. Only where the check is strong.
   */
  readId(gains: CellGains): Pick<SectorSighting, 'c' | 'h' | 'r' | 'n' | 'size'> | null;
  /**
   * Lays sectors out as one turn of cells, one byte a cell, 1 = transition. Throws RangeError where
   * they do not fit.
   */
  encode(sectors: readonly SectorToWrite[], format: TrackFormat, turnCells: number): Uint8Array;
}
