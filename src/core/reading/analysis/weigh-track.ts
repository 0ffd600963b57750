/**
 * All turns of a track weighed together, for a person to see: what was assumed of how it is
 * recorded, which turn is garbage where, and how sure each place of it is by the times alone.
 */
import type { TrackReading } from '@/core/flux/reading';
import type { EncodingId } from '@/core/layout/layout';
import type { DriveFacts } from '../decode/track-work';
import { TrackTimes } from '../decode/track-times';
import { turnTicks } from '../decode/turn';
import { cellMargins } from '../together/cell-margins';
import { holdsTrack, withCellByTurn, type TimedReading } from '../together/find-cell';
import { STEP } from '../together/garbage-chain';
import { accountOf, type TrackAccount } from '../together/track-account';
import { tickAt } from '../together/turn-views';

export interface WeighRequest {
  readings: readonly TrackReading[];
  drive: DriveFacts;
  encoding: EncodingId;
  /** Fitted code cell of the first reading, in ticks. */
  cellTicks: number;
  /** Equal parts of the turn. */
  columns: number;
}

/** A turn of one of the readings, both from 0, and the share of it that is taken for garbage. */
export interface WeighedTurn {
  reading: number;
  turn: number;
  garbage: number;
}

export interface TrackWeights {
  turns: WeighedTurn[];
  /** Deviation of a transition from where it is expected, in cells. */
  spread: number;
  /** The furthest that neighbours push one, in cells. */
  push: number;
  /** Share of the transitions that a turn misses. */
  missed: number;
  /** Transitions that belong to nothing, by each that does. */
  extra: number;
  /**
   * By column, where the turn begins at the index pulse: the logarithm to base 10 of the chance that
   * its least certain cell is otherwise; −Infinity where nothing was read.
   */
  doubt: Float32Array;
}

/**
 * Cells behind the turn that are read as well: the first ones of a reading have nothing in front of
 * them, and are as sure as where they come by again.
 */
const AGAIN = 2000;
const BEHIND = 200;
/** Of a turn, a step at which garbage is likelier than not. */
const LIKELY = 0.5;

/** Null where no reading has a whole turn. */
export function weighTrack(request: WeighRequest): TrackWeights | null {
  const timed = timedOf(request);
  const account = accountOf(request.encoding, timed, { behind: AGAIN + BEHIND });
  if (!account) return null;
  const { model, path, cells, end } = account;
  return {
    turns: account.turns.map(({ reading, turn }, i) => ({
      // Of all that there are: some hold no whole turn.
      reading: request.readings.indexOf(timed[reading]!.reading),
      turn,
      garbage: garbageShare(model.garbage[i]!, cells),
    })),
    spread: model.sigma,
    push: model.shift.reduce((most, each) => Math.max(most, Math.abs(each)), 0),
    missed: model.missed,
    extra: (model.extra * end) / Math.max(1, path.cells.length),
    doubt: doubtOf(account, request.columns),
  };
}

function timedOf({ readings, drive, cellTicks }: WeighRequest): TimedReading[] {
  const times = new TrackTimes(readings, drive.tickHz);
  const timed = readings.map((reading, at) => ({ reading, ...times.of(at), cellTicks }));
  return withCellByTurn(timed.filter(holdsTrack), cellTicks);
}

function garbageShare(steps: Float32Array, cells: number): number {
  const own = steps.subarray(0, Math.ceil(cells / STEP));
  const likely = own.reduce((sum, chance) => sum + (chance > LIKELY ? 1 : 0), 0);
  return own.length > 0 ? likely / own.length : 0;
}

/** The chance that a cell is otherwise is 1 / (1 + e^m) for a margin of m nats either way. */
function chance10(margin: number): number {
  const sure = Math.abs(margin);
  return -(sure + Math.log1p(Math.exp(-sure))) / Math.LN10;
}

function doubtOf(account: TrackAccount, columns: number): Float32Array {
  const { cells } = account;
  const doubt = new Float32Array(columns).fill(-Infinity);
  const again = new Float32Array(columns).fill(-Infinity);
  eachPlace(account, (place, angle, own) => {
    const column = Math.floor((angle - Math.floor(angle)) * columns);
    const which = place < cells ? doubt : again;
    which[column] = Math.max(which[column]!, own);
  });
  // Only such columns as were met again as a whole.
  const whole = Math.min(columns, Math.floor((AGAIN / cells) * columns));
  for (let column = 0; column < whole; column++)
    if (again[column]! > -Infinity) doubt[column] = Math.min(doubt[column]!, again[column]!);
  return doubt;
}

/** Calls back with each cell, its place in turns from the index pulse, and how doubtful it is. */
function eachPlace(
  { readings, origin, pieces, model, cells }: TrackAccount,
  note: (place: number, angle: number, own: number) => void,
): void {
  const [first] = readings;
  const length = turnTicks(first!.reading, 0);
  const begin = first!.reading.index[0]!;
  for (const { metric } of pieces)
    for (const [i, margin] of cellMargins(metric, model).entries()) {
      const place = metric.from + i;
      if (place < 0 || place >= cells + AGAIN) continue;
      note(place, (tickAt(first!, origin + place) - begin) / length, chance10(margin));
    }
}

/** The most doubtful of a stretch of the turn, as the columns have it; null where nothing was read. */
export function doubtBetween(doubt: Float32Array, angle: number, span: number): number | null {
  const first = Math.floor(angle * doubt.length);
  const count = Math.max(1, Math.ceil(span * doubt.length));
  let most = -Infinity;
  for (let i = 0; i < Math.min(count, doubt.length); i++)
    most = Math.max(most, doubt[(first + i) % doubt.length]!);
  return most === -Infinity ? null : most;
}
