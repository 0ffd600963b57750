/** A sector of a track as every stage of reading hands it on: as sighted, and as settled. */
import type { Said } from '@/core/said';
import type { Recovery, SectorSighting } from '../encoding';
import type { EncodingId } from '../layout/layout';
import type { Grade } from './grades';

export const REMARK_KINDS = Object.freeze(['odd-harmless', 'as-made'] as const);
export type RemarkKind = (typeof REMARK_KINDS)[number];

export interface Remark {
  kind: RemarkKind;
  /** A sentence for a person. */
  what: Said;
}

/** How a mended sector was mended. */
export const MENDINGS = Object.freeze([
  'another-pass',
  'joined',
  'likelihood',
  'voting',
  'trial',
  'by-hand',
] as const);
export type Mending = (typeof MENDINGS)[number];

/**
 * How far the bytes may be believed that all turns together make likeliest: by themselves; where a
 * turn has the same; or not.
 */
export type Belief = 'claimed' | 'likely' | 'unsure';

/** A sighting with where it was taken. */
export interface PlacedSighting {
  sighting: SectorSighting;
  /** Which of the track's readings, from 0, in the order read. */
  reading: number;
  pass: number;
  turn: number;
  /** Start of the ID field's sync, as a share of the turn. */
  angle: number;
  /** Length up to the end of the data field, as a share of the turn. */
  span: number;
  /** Its bytes are not one turn's plain reading: how they were come by. */
  mending?: Exclude<Mending, 'another-pass'>;
  /**
   * Beside a weak check: no place of the field is doubtful by its timing. Unset where nobody has
   * looked.
   */
  sure?: boolean;
  together?: Belief;
  /** Of what all turns come to: how many they are, and the chance that its bytes are others. */
  account?: { turns: number; wrong: number };
}

/** A sector of a track as settled. */
export interface TrackSector {
  /** Head position in the drive's own steps. */
  cylinder: number;
  head: number;
  encoding: EncodingId;
  /** As recorded; for a lost sector as the layout expects. */
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  idExtra: Readonly<Record<string, number>> | null;
  size: number;
  deleted: boolean;
  mark: number | null;
  grade: Grade;
  mending: Mending | null;
  remarks: Remark[];
  /** Sound bytes, or of a doubtful sector what one reading had. */
  data: Uint8Array | null;
  angle: number | null;
  span: number | null;
  /** Turns in which its ID, and its data with a right check, were seen. */
  seen: number;
  seenSound: number;
  source: { reading: number; pass: number; turn: number; recovery: Recovery } | null;
  /** Why this version was taken, or why none was. */
  why: Said;
}
