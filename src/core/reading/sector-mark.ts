/** A sector as charts and tables show it: small enough to be sent for every track as it is read. */
import type { TrackReading } from '../flux/reading';
import { isSound, type Grade } from './grades';
import type { Mending, TrackSector } from './track-sector';
import { spreadBetween, timingOfTurn } from './decode/timing';
import type { TrackDecode } from './decode/track-decoder';
import type { DriveFacts } from './decode/track-work';
import { nominalTurn, turnTicks } from './decode/turn';
import type { Remark } from './track-sector';

export interface SectorMark {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  size: number;
  grade: Grade;
  /** Shares of a turn; null for what was never seen. */
  angle: number | null;
  span: number | null;
  deleted: boolean;
  mending: Mending | null;
  /** Turns in which its ID, and its data with a right check, were seen. */
  seen: number;
  seenSound: number;
  remarks?: Remark[];
  /** The pass that supplied its bytes; absent where none did. */
  pass?: number;
  /**
   * Spread of its transitions about their raster, in hundredths of a cell; absent where it was not
   * worked out.
   */
  timing?: number;
}

const rounded = (share: number | null) => (share === null ? null : Math.round(share * 1e5) / 1e5);

export function markOf(
  {
    c,
    h,
    r,
    n,
    size,
    grade,
    angle,
    span,
    deleted,
    mending,
    seen,
    seenSound,
    remarks,
    source,
  }: TrackSector,
  timing: number | null = null,
): SectorMark {
  return {
    c,
    h,
    r,
    n,
    size,
    grade,
    angle: rounded(angle),
    span: rounded(span),
    deleted,
    mending,
    seen,
    seenSound,
    ...(remarks.length > 0 && { remarks }),
    ...(source && isSound(grade) && { pass: source.pass }),
    ...(timing !== null && { timing: Math.round(timing * 100) }),
  };
}

/** Parts of a turn that a track's timing is worked out in. */
const TIMING_PARTS = 256;

/** The marks of a track, each with the timing of the first reading's first whole turn. */
export function marksOf(
  { sectors, cellTicks }: Pick<TrackDecode, 'sectors' | 'cellTicks'>,
  reading: TrackReading | undefined,
  { tickHz, rpm }: DriveFacts,
): SectorMark[] {
  const timing =
    reading && cellTicks > 0
      ? timingOfTurn(
          reading,
          tickHz,
          cellTicks,
          reading.index[0] ?? 0,
          turnTicks(reading, nominalTurn(tickHz, rpm)),
          TIMING_PARTS,
        )
      : null;
  return sectors.map((sector) =>
    markOf(
      sector,
      timing && sector.angle !== null && sector.span !== null
        ? spreadBetween(timing, sector.angle, sector.span)
        : null,
    ),
  );
}
