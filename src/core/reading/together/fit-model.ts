/**
 * The model of a track fitted to its own likeliest sequence: peak shift by the runs before and
 * after, noise, losses, and which turn is garbage where. No sector's check has a say in it.
 */
import { alignTurn } from './align-turn';
import type { CountedTurn } from './cell-metric';
import type { CellPath } from './free-path';
import { STEP } from './garbage-chain';
import { median } from '@/core/bits/median';
import { BLOCK, LEAST_GARBAGE, type TrackModel } from './track-model';
import { counted } from './turn-groups';
import { faultsOfMedium, trustOf, type Matching, type Trust } from './turn-trust';
import type { TurnView } from './turn-views';

const LEAST_OF_KIND = 12;
/** Residuals that a fit is made from, about. */
const RESIDUALS = 40_000;
const MIN_SIGMA = 0.045;
const MAX_SIGMA = 0.2;
/** A match further off than this counts as none, where trust is counted. */
const MATCHED = 0.5;
/** Turns better than this count for a block's own noise. */
const USABLE = 0.5;
/** Residuals are cut at half a cell; what that hides of the noise is put back. */
const CUT_SCALE = 1.15;
const TRACK_WEIGHT = 6;
const SOFT_FROM = 1.5;
const MAX_LOCAL = 0.4;
/** Noise that a soft spot is begun with. */
const SOFT = 0.28;
/** In a noisy place a match may lie further off: by so many deviations, and never more than this. */
const WIDE = 2.5;
const MOST_REACH = 1;
/** Of a normal distribution: deviation over median distance. */
const DEVIATION_OF_MEDIAN = 1.4826;

interface Nodes {
  count: number;
  /** Which entry of the shift table each transition has; −1 at runs that the code has not. */
  kind: Int8Array;
  expected: Float64Array;
}

/** The transitions of a sequence with where the model expects them. */
function nodesOf({ cells }: CellPath, model: TrackModel): Nodes {
  const { shortest, kinds, shift } = model;
  const count = cells.length;
  const kind = new Int8Array(count).fill(-1);
  const expected = new Float64Array(count);
  for (let j = 0; j < count; j++) {
    const before = j > 0 ? cells[j]! - cells[j - 1]! - shortest : -1;
    const after = j + 1 < count ? cells[j + 1]! - cells[j]! - shortest : -1;
    if (before >= 0 && before < kinds && after >= 0 && after < kinds)
      kind[j] = before * kinds + after;
    expected[j] = cells[j]! + (kind[j]! >= 0 ? shift[kind[j]!]! : 0);
  }
  return { count, kind, expected };
}

/** As long as the track; what was not fitted is `rest`. */
function padded(values: Float32Array, length: number, rest: number): Float32Array {
  const all = new Float32Array(Math.max(values.length, Math.ceil(length) + 1)).fill(rest);
  all.set(values);
  return all;
}

interface Fit {
  model: TrackModel;
  turns: CountedTurn[];
  /** By block: whether the sequence is to be followed anew, now that it is known whom to trust. */
  disputed: Uint8Array;
}

/** The model and the turns' countings, both made better by a sequence; `cells` is all the track. */
export function fitted(
  views: readonly TurnView[],
  path: CellPath,
  model: TrackModel,
  cells: number,
): Fit {
  const nodes = nodesOf(path, model);
  const matches = views.map(({ places }) => alignTurn(places, nodes.expected, model.sigma));
  const shift = fitShift(views, nodes, matches, model);
  const expected = nodes.expected.map((place, j) => {
    const kind = nodes.kind[j]!;
    return kind < 0 ? place : place + shift[kind]! - model.shift[kind]!;
  });
  const sigma = fitSigma(views, expected, nodes, matches);
  const matching = { expected, matches, reach: reachOf(expected, model) };
  const trust = trustOf(views, matching);
  const local = localNoise(views, matching, trust, sigma);
  const noise = (place: number) =>
    Math.max(sigma, local[Math.max(0, Math.min(local.length - 1, Math.floor(place / BLOCK)))] ?? 0);
  const next: TrackModel = {
    ...model,
    shift,
    sigma,
    missed: trust.missed,
    extra: trust.extra,
    ...faultsOfMedium(views, matching, noise),
    garbage: trust.garbage.map((steps) => padded(steps, cells / STEP, LEAST_GARBAGE)),
    local: padded(local, cells / BLOCK, 0),
  };
  return { model: next, turns: counted(views, expected, matches, sigma), disputed: trust.disputed };
}

/** Calls back with the residual of some matches, enough for a median: with their kind. */
function eachResidual(
  views: readonly TurnView[],
  { count, kind }: Nodes,
  expected: Float64Array,
  matches: readonly Int32Array[],
  note: (kind: number, residual: number) => void,
): void {
  const every = Math.max(1, Math.floor((count * views.length) / RESIDUALS));
  for (const [turn, { places }] of views.entries())
    for (let j = turn % every; j < count; j += every) {
      const i = matches[turn]![j]!;
      if (kind[j]! >= 0 && i >= 0) note(kind[j]!, places[i]! - expected[j]!);
    }
}

function fitShift(
  views: readonly TurnView[],
  nodes: Nodes,
  matches: readonly Int32Array[],
  { shift, kinds }: TrackModel,
): Float64Array {
  const residuals: number[][] = Array.from({ length: kinds * kinds }, () => []);
  eachResidual(views, nodes, nodes.expected, matches, (kind, off) => residuals[kind]!.push(off));
  return shift.map((own, at) =>
    residuals[at]!.length >= LEAST_OF_KIND ? own + median(residuals[at]!) : own,
  );
}

function fitSigma(
  views: readonly TurnView[],
  expected: Float64Array,
  nodes: Nodes,
  matches: readonly Int32Array[],
): number {
  const sizes: number[] = [];
  eachResidual(views, nodes, expected, matches, (_, off) => sizes.push(Math.abs(off)));
  return Math.max(MIN_SIGMA, Math.min(MAX_SIGMA, DEVIATION_OF_MEDIAN * median(sizes)));
}

/** How far a match may lie off, by what is known of the noise there. */
const reachOf = (expected: Float64Array, { local }: TrackModel): Float64Array =>
  expected.map((place) => {
    const noise = local?.[Math.max(0, Math.min(local.length - 1, Math.floor(place / BLOCK)))] ?? 0;
    return Math.max(MATCHED, Math.min(MOST_REACH, WIDE * noise));
  });

/** By block: the noise where it is clearly more than the track's. */
function localNoise(
  views: readonly TurnView[],
  { expected, matches, reach }: Matching,
  { garbage, soft }: Trust,
  sigma: number,
): Float32Array {
  const blocks = soft.length;
  const squares = new Float32Array(blocks);
  const counts = new Float32Array(blocks);
  for (const [turn, { places }] of views.entries())
    for (let j = 0; j < expected.length; j++) {
      const i = matches[turn]![j]!;
      const block = Math.max(0, Math.min(blocks - 1, Math.floor(expected[j]! / BLOCK)));
      const step = Math.max(0, Math.floor(expected[j]! / STEP));
      if (i < 0 || (garbage[turn]![step] ?? 0) > USABLE) continue;
      const off = places[i]! - expected[j]!;
      if (Math.abs(off) > reach[j]!) continue;
      squares[block]! += off * off;
      counts[block]!++;
    }
  const over = (values: Float32Array, block: number) =>
    values[block]! + (values[block - 1] ?? 0) + (values[block + 1] ?? 0);
  return squares.map((_, block) => {
    const mean =
      (CUT_SCALE ** 2 * over(squares, block) + TRACK_WEIGHT * sigma * sigma) /
      (over(counts, block) + TRACK_WEIGHT);
    const local = Math.max(Math.sqrt(mean), soft[block] ? SOFT : 0);
    return local > SOFT_FROM * sigma ? Math.min(MAX_LOCAL, local) : 0;
  });
}
