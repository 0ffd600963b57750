/**
 * Which code a track is written in and how long its cell is, by what explains the times of its first
 * transitions best: strong peak shift makes intervals look like those of another rate or code.
 */
import { RUNS } from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';
import { ENCODING_IDS, turnCells, type EncodingId } from '@/core/layout/layout';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { turnTicks } from '../decode/turn';
import { placesOnGrid } from './cell-clock';
import { cellMetric } from './cell-metric';
import { freePath } from './free-path';
import { STRENGTHS, startModel } from './track-model';

/** Transitions over which cells of other lengths are held against one another. */
const COMPARED_OVER = 2000;
/** A cell this near to one of a usual rate is that one; others are tried where it fits badly. */
const USUAL_WITHIN = 0.03;
const FITS_WELL = 0.93;
const TRIED_WITHIN = 0.3;
/** Cells a transition, at the most, of what is written in a code. */
const MOST_CELLS_EACH = 32;

/** A reading of one whole turn at least, and its transitions. */
export interface TimedReading {
  reading: TrackReading;
  times: Float64Array;
  count: number;
  cellTicks: number;
}

/** A reading of fewer transitions holds no track. */
const LEAST_TRANSITIONS = 1000;

/** Whether a reading has a whole turn, and something on it. */
export const holdsTrack = ({ reading, count }: Omit<TimedReading, 'cellTicks'>): boolean =>
  reading.index.length > 1 && count > LEAST_TRANSITIONS;

/**
 * The readings with the cell that the first has: drives of other speeds have cells of their own, by
 * their own turns.
 */
export function withCellByTurn(timed: readonly TimedReading[], cellTicks: number): TimedReading[] {
  const turnOf = ({ reading }: TimedReading) => turnTicks(reading, 0);
  const usual = timed[0] ? turnOf(timed[0]) : 1;
  return timed.map((each) => ({ ...each, cellTicks: (cellTicks * turnOf(each)) / usual }));
}

/** Cells of a turn at the rates that layouts of this code are recorded at. */
const usualCells = (encoding: EncodingId): number[] => [
  ...new Set(
    SHIPPED_LAYOUTS.flatMap(({ tracks, rpm }) =>
      tracks.flatMap((format) =>
        format.encoding === encoding ? [Math.round(turnCells(format, rpm))] : [],
      ),
    ),
  ),
];

/**
 * The readings with the cell that explains them best: strong peak shift makes intervals look like
 * those of another rate.
 */
export function withCell(
  encoding: EncodingId,
  timed: readonly TimedReading[],
  share: number,
): readonly TimedReading[] {
  const [first] = timed;
  if (!first || share >= FITS_WELL) return timed;
  const turn = turnTicks(first.reading, 0);
  const off = (cells: number) => Math.abs(turn / cells / first.cellTicks - 1);
  const usual = usualCells(encoding);
  const factors = [
    // Without a cell of its own any rate is tried.
    ...usual.filter((cells) => share === 0 || off(cells) < TRIED_WITHIN),
    ...(usual.some((cells) => off(cells) < USUAL_WITHIN) ? [] : [turn / first.cellTicks]),
  ].map((cells) => turn / cells / first.cellTicks);
  if (factors.length < 2) return timed.map((each) => scaled(each, factors[0] ?? 1));
  const scores = factors.map((factor) => explains(encoding, scaled(first, factor)));
  const best = factors[scores.indexOf(Math.max(...scores))]!;
  return timed.map((each) => scaled(each, best));
}

/**
 * Codes by how well each explains a reading at its usual rates, the likeliest first, with the cell
 * that it does it with.
 */
export function likeliestCodes(
  timed: TimedReading,
  over = COMPARED_OVER,
): { encoding: EncodingId; cellTicks: number; score: number }[] {
  const turn = turnTicks(timed.reading, 0);
  return ENCODING_IDS.flatMap((encoding) =>
    usualCells(encoding).map((cells) => {
      const cellTicks = turn / cells;
      return { encoding, cellTicks, score: explains(encoding, { ...timed, cellTicks }, over) };
    }),
  ).sort((a, b) => b.score - a.score);
}

const scaled = (each: TimedReading, factor: number): TimedReading => ({
  ...each,
  cellTicks: each.cellTicks * factor,
});

/**
 * Of a transition in cells. The worst hurt tracks of an open ladder come to −0.2 and better, noise
 * where nothing was ever written to −0.8 and worse.
 */
const LEAST_OF_FORMATTED = -0.5;
const GLANCE = 400;

/** Whether a reading is written in a code at all: at a glance in the one that is known, else any. */
export function seemsFormatted(
  timed: TimedReading,
  known: { encoding: EncodingId; cellTicks: number } | null,
): boolean {
  const candidates = known
    ? [{ ...known, score: explains(known.encoding, { ...timed, ...known }, GLANCE) }]
    : likeliestCodes(timed, GLANCE);
  const most = Math.min(GLANCE, timed.count);
  return candidates.some(
    ({ score, cellTicks }) => score / most + Math.log(cellTicks) > LEAST_OF_FORMATTED,
  );
}

/** Log-likelihood of the first transitions in ticks, by the best strength of peak shift. */
function explains(
  encoding: EncodingId,
  { reading, times, count, cellTicks }: TimedReading,
  over = COMPARED_OVER,
): number {
  const { shortest } = RUNS[encoding];
  const most = Math.min(count, over);
  const places = placesOnGrid({ times, count: most, cellTicks, shortest });
  const turn = {
    reading: 0,
    turn: reading.index.length,
    places,
    counted: places,
    from: places[0]!,
    to: places[most - 1]!,
  };
  const cells = Math.floor(turn.to);
  // Pauses of a whole turn are no track in this code.
  if (cells < 1 || cells > most * MOST_CELLS_EACH) return -Infinity;
  const scores = STRENGTHS.map((strength) => {
    const model = startModel(encoding, strength, 1, cells);
    return freePath(cellMetric([turn], model, 0, cells), model).score;
  });
  return Math.max(...scores) - most * Math.log(cellTicks);
}
