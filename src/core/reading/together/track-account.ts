/**
 * A track read from all its turns at once: their clocks, one grid, a model of how it is recorded,
 * and what every cell holds by all of them.
 */
import { RUNS } from '@/core/encoding';
import type { EncodingId } from '@/core/layout/layout';
import { placesOnGrid } from './cell-clock';
import { cellMetric, type CellMetric, type CountedTurn } from './cell-metric';
import type { TimedReading } from './find-cell';
import { freePath, type CellPath } from './free-path';
import { openStretches, type KnownSector, type Stretch } from './open-stretches';
import { fittedToPart, joined, refit, trustedAs, type PartFit } from './refit';
import type { TrackModel } from './track-model';
import { turnViews, type ClockedReading, type TurnView } from './turn-views';

/** Noise above which the clock for strong shift is tried as well. */
const NOISY = 0.05;
const STRONG = 0.2;
/** A turn of fewer cells holds no track, and none has more. */
const LEAST_CELLS = 1000;
const MOST_CELLS = 500_000;

export interface TrackAccount {
  readings: ClockedReading[];
  /** The place on the first reading's grid from which the track's cells are counted. */
  origin: number;
  /** Cells of one turn. */
  cells: number;
  /** Cells that were read: the turn's, and some behind it. */
  end: number;
  turns: CountedTurn[];
  model: TrackModel;
  /** What was read of it, in its order. */
  pieces: TrackPiece[];
  /** Cells with a transition in all pieces, and the log-likelihood of them. */
  path: CellPath;
}

interface TrackPiece extends Stretch {
  metric: CellMetric;
}

/** What the account has for a field that begins in a cell; null where that was not read. */
export const metricAt = ({ pieces }: TrackAccount, cell: number): CellMetric | null =>
  pieces.find(({ from, to }) => cell >= from && cell < to)?.metric ?? null;

interface AccountAsked {
  /** Cells to read past the index pulse. */
  behind: number;
  /** Sectors that need not be read. */
  known?: readonly KnownSector[];
}

/**
 * The account of readings that have the cell of their code. Null where no reading has a whole turn.
 * Codes of the same run lengths and cell have one account.
 */
export function accountOf(
  encoding: EncodingId,
  timed: readonly TimedReading[],
  { behind, known = [] }: AccountAsked,
): TrackAccount | null {
  const usual = begun(encoding, timed, behind);
  const isGroupCode = RUNS[encoding].shortest === 1 && RUNS[encoding].longest === 3;
  if (!usual || !isGroupCode || !isHardToFollow(usual.fit.model))
    return usual && ended(usual, known);
  const other = begun(encoding, timed, behind, true);
  return ended(other && other.fit.score > usual.fit.score ? other : usual, known);
}

/** Noise that is left although the shift is strong says that the clock erred. */
const isHardToFollow = ({ sigma, shift }: TrackModel): boolean =>
  sigma > NOISY && shift.some((each) => Math.abs(each) > STRONG);

/** All turns on one grid, and how the track is recorded by its first part. */
interface Begun {
  readings: ClockedReading[];
  views: TurnView[];
  cells: number;
  origin: number;
  end: number;
  fit: PartFit;
}

function begun(
  encoding: EncodingId,
  timed: readonly TimedReading[],
  behind: number,
  strongShift = false,
): Begun | null {
  const { shortest } = RUNS[encoding];
  const readings = timed.map(({ reading, times, count, cellTicks }): ClockedReading => ({
    reading,
    times,
    count,
    places: placesOnGrid({ times, count, cellTicks, shortest, strongShift }),
  }));
  const { views, cells, origin } = turnViews(readings);
  if (views.length === 0 || cells < LEAST_CELLS || cells > MOST_CELLS) return null;
  const end = cells + behind;
  return { readings, views, cells, origin, end, fit: fittedToPart(encoding, views, end) };
}

function ended(
  { readings, views, cells, origin, end, fit }: Begun,
  known: readonly KnownSector[],
): TrackAccount {
  const stretches = openStretches(readings, known, cells, end);
  const { model: refitted, turns } = refit(views, fit.model, stretches, end);
  const isMostRead = 2 * stretches.reduce((sum, { from, to }) => sum + to - from, 0) > end;
  const model = isMostRead ? refitted : trustedAs(fit.model, refitted);
  const pieces = stretches.map(({ from, to }) => ({
    from,
    to,
    metric: cellMetric(turns, model, from, to),
  }));
  const path = joined(pieces.map(({ metric }) => freePath(metric, model)));
  return { readings, origin, cells, end, turns, model, pieces, path };
}
