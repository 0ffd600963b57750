/**
 * The model of a track fitted: first how it is recorded, from a part of it; then, over all that is
 * read, which turn is to be trusted where and what the medium itself has lost.
 */
import type { EncodingId } from '@/core/layout/layout';
import { cellMetric, type CountedTurn } from './cell-metric';
import { fitted } from './fit-model';
import { freePath, type CellPath } from './free-path';
import type { Stretch } from './open-stretches';
import { BLOCK, STRENGTHS, startModel, type TrackModel } from './track-model';
import type { TurnView } from './turn-views';
import { votedCells } from './vote';

/** Cells over which the first guess is chosen. */
const GUESSED_OVER = 3000;
/** Rounds of a fit over a part of the track, the cells of that part, and turns that it is made by. */
const ROUNDS = 2;
const FITTED_OVER = 12_000;
const FITTED_BY = 3;
/** Of so many turns a plain vote is followed first, where peak shift leaves transitions in their cells. */
const MANY_TURNS = 5;
const VOTED_SHIFT = 0.25;

export interface PartFit {
  model: TrackModel;
  /** Log-likelihood of the part's sequence. */
  score: number;
}

/** How the track is recorded, by a few turns of its first part; trust is that of all turns. */
export function fittedToPart(
  encoding: EncodingId,
  views: readonly TurnView[],
  end: number,
): PartFit {
  const few = views.slice(0, FITTED_BY);
  const part = { from: 0, to: Math.min(FITTED_OVER, end) };
  let turns: CountedTurn[] = few.map((view) => ({ ...view, counted: view.places }));
  let model = guessed(encoding, turns, end);
  let score = -Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const path = pathOver(turns, model, [part]);
    ({ score } = path);
    ({ model, turns } = fitted(few, path, model, end));
  }
  const { shift, sigma, missed, extra } = model;
  const all = startModel(encoding, 0, views.length, end);
  return { model: { ...all, shift, sigma, missed, extra }, score };
}

/** The model whose strength of peak shift explains the first cells best. */
function guessed(encoding: EncodingId, turns: readonly CountedTurn[], end: number): TrackModel {
  const over = Math.min(GUESSED_OVER, end);
  const models = STRENGTHS.map((strength) => startModel(encoding, strength, turns.length, end));
  const scores = models.map((model) => freePath(cellMetric(turns, model, 0, over), model).score);
  return models[scores.indexOf(Math.max(...scores))]!;
}

/**
 * Fits to the whole of what is read; where turns are garbage or the medium is soft, the sequence is
 * followed once more.
 */
export function refit(
  views: readonly TurnView[],
  model: TrackModel,
  stretches: readonly Stretch[],
  end: number,
): ReturnType<typeof fitted> {
  const turns = views.map((view) => ({ ...view, counted: view.places }));
  const isVoted =
    views.length >= MANY_TURNS && model.shift.every((each) => Math.abs(each) < VOTED_SHIFT);
  const path = isVoted
    ? votedPath(turns, model, stretches, end)
    : pathOver(turns, model, stretches);
  const once = fitted(views, path, model, end);
  const disputed = stretches.flatMap((stretch) => disputedWithin(stretch, once.disputed));
  if (disputed.length === 0) return once;
  const again = pathOver(once.turns, once.model, disputed);
  return fitted(views, spliced(path, again, disputed), once.model, end);
}

/** What most turns have: of many turns as good as a likeliest sequence, at a part of its cost. */
function votedPath(
  turns: readonly CountedTurn[],
  model: TrackModel,
  stretches: readonly Stretch[],
  end: number,
): CellPath {
  const votes = votedCells(turns, model, end);
  const cells = stretches.flatMap(({ from, to }) =>
    Array.from({ length: to - from }, (_, i) => from + i).filter((cell) => votes[cell] === 1),
  );
  return { cells: Int32Array.from(cells), score: 0 };
}

/** The stretches of a track that are disputed, with what is needed to begin and to end in. */
function disputedWithin({ from, to }: Stretch, disputed: Uint8Array): Stretch[] {
  const found: Stretch[] = [];
  for (const [block, isOpen] of disputed.entries()) {
    const own = {
      from: Math.max(from, (block - 1) * BLOCK),
      to: Math.min(to, (block + 2) * BLOCK),
    };
    if (!isOpen || own.to <= own.from) continue;
    const last = found[found.length - 1];
    if (last && own.from <= last.to) last.to = own.to;
    else found.push(own);
  }
  return found;
}

/** A path with parts of it taken from another. */
function spliced(path: CellPath, parts: CellPath, stretches: readonly Stretch[]): CellPath {
  const kept = [...path.cells].filter(
    (cell) => !stretches.some(({ from, to }) => cell >= from && cell < to),
  );
  return { cells: Int32Array.from([...kept, ...parts.cells]).sort(), score: path.score };
}

const pathOver = (
  turns: readonly CountedTurn[],
  model: TrackModel,
  stretches: readonly Stretch[],
): CellPath =>
  joined(stretches.map(({ from, to }) => freePath(cellMetric(turns, model, from, to), model)));

export const joined = (paths: readonly CellPath[]): CellPath => ({
  cells: Int32Array.from(paths.flatMap(({ cells }) => [...cells])),
  score: paths.reduce((sum, { score }) => sum + score, 0),
});

/**
 * A model of the track with what a few hurt stretches say of themselves: they are too little, and
 * too bad, to say how the track is recorded.
 */
export const trustedAs = (
  model: TrackModel,
  { garbage, local, lost, moved }: TrackModel,
): TrackModel => ({
  ...model,
  garbage,
  local,
  lost,
  moved,
});
