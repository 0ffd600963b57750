/**
 * All turns of a track weighed together, for a person to see: what was assumed of how it is
 * recorded, which turn is garbage where, and how sure each place of it is by the times alone.
 */
import { IntervalBuffer, type TrackReading } from '@/core/flux/reading';
import type { EncodingId } from '@/core/layout/layout';
import type { DriveFacts } from '../decode/track-work';
import { turnTicks } from '../decode/turn';
import { cellMargins } from '../together/cell-margins';
import type { TimedReading } from '../together/find-cell';
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

/** A turn of a reading, both from 0, and the share of it that is taken for garbage. */
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

/** A reading of fewer transitions holds no track. */
const LEAST_TRANSITIONS = 1000;
/** Of a turn, a step at which garbage is likelier than not. */
const LIKELY = 0.5;

/** Null where no reading has a whole turn. */
export function weighTrack(request: WeighRequest): TrackWeights | null {
  const timed = timedOf(request);
  const account = accountOf(request.encoding, timed, { behind: 0, farSlips: true });
  if (!account) return null;
  const { model, path, cells } = account;
  return {
    turns: account.turns.map(({ reading, turn }, i) => ({
      reading,
      turn,
      garbage: garbageShare(model.garbage[i]!, cells),
    })),
    spread: model.sigma,
    push: model.shift.reduce((most, each) => Math.max(most, Math.abs(each)), 0),
    missed: model.missed,
    extra: (model.extra * cells) / Math.max(1, path.cells.length),
    doubt: doubtOf(account, request.columns),
  };
}

/** Readings of drives of other speeds have cells of their own, by their own turns. */
function timedOf({ readings, drive, cellTicks }: WeighRequest): TimedReading[] {
  const intervals = new IntervalBuffer();
  const whole = readings.filter(({ index }) => index.length > 1);
  const usual = whole[0] ? turnTicks(whole[0], 0) : 1;
  return whole.flatMap((reading) => {
    const { ticks, count } = intervals.unpack(reading.flux, drive.tickHz);
    if (count < LEAST_TRANSITIONS) return [];
    const times = new Float64Array(count);
    for (let i = 0, at = 0; i < count; i++) times[i] = at += ticks[i]!;
    return [{ reading, times, count, cellTicks: (cellTicks * turnTicks(reading, 0)) / usual }];
  });
}

function garbageShare(steps: Float32Array, cells: number): number {
  const own = steps.subarray(0, Math.ceil(cells / STEP));
  const likely = own.reduce((sum, chance) => sum + (chance > LIKELY ? 1 : 0), 0);
  return own.length > 0 ? likely / own.length : 0;
}

/** The chance that a cell is otherwise is 1 / (1 + e^m) for a margin of m nats either way. */
const chance10 = (margin: number): number => -Math.log1p(Math.exp(Math.abs(margin))) / Math.LN10;
/** Beyond this the exponential function has no number; it is as good as the margin itself. */
const FAR = 600;

function doubtOf(
  { readings, origin, pieces, model, cells }: TrackAccount,
  columns: number,
): Float32Array {
  const doubt = new Float32Array(columns).fill(-Infinity);
  const [first] = readings;
  const length = turnTicks(first!.reading, 0);
  const begin = first!.reading.index[0]!;
  for (const { metric } of pieces)
    for (const [i, margin] of cellMargins(metric, model).entries()) {
      const place = metric.from + i;
      if (place < 0 || place >= cells) continue;
      const angle = (tickAt(first!, origin + place) - begin) / length;
      const column = Math.floor((angle - Math.floor(angle)) * columns);
      const own = Math.abs(margin) > FAR ? -Math.abs(margin) / Math.LN10 : chance10(margin);
      doubt[column] = Math.max(doubt[column]!, own);
    }
  return doubt;
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
