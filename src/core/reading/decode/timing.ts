/**
 * How steady a reading's timing is round the turn: the local length of the cell, and how far
 * single transitions lie
 * from it. Charts and the drives' self-test take their figures from here.
 */
import { IntervalBuffer, type TrackReading } from '@/core/flux/reading';

/** One of the equal parts of a turn. */
export interface TimingPart {
  /**
   * Length of the cell here against the whole reading's, as a share: 0.01 is one hundredth longer.
   */
  drift: number;
  /** Root mean square of the transitions' distance from the cell's raster, in cells. */
  spread: number;
  /** Intervals counted here; where it is 0 nothing is known. */
  count: number;
}

/** Scratch of this thread; nothing here waits. */
const buffer = new IntervalBuffer();

const LONGEST_RUN = 5;
/** How fast the local cell follows: a share of an interval's error. */
const FOLLOWS = 0.02;
const MAX_DRIFT = 0.2;

/**
 * Timing of `parts` equal parts of a turn that starts at `fromTick`; `cellTicks` is the fitted
 * cell.
 */
export function timingOfTurn(
  reading: TrackReading,
  tickHz: number,
  cellTicks: number,
  fromTick: number,
  turnTicks: number,
  parts: number,
): TimingPart[] {
  const { ticks, count } = buffer.unpack(reading.flux, tickHz);
  const drifts = new Float64Array(parts);
  const squares = new Float64Array(parts);
  const counts = new Int32Array(parts);
  const longest = cellTicks * (1 + MAX_DRIFT);
  const shortest = cellTicks * (1 - MAX_DRIFT);
  let cell = cellTicks;
  let at = 0;
  for (let i = 0; i < count; i++) {
    const interval = ticks[i]!;
    at += interval;
    if (at >= fromTick + turnTicks) break;
    const run = Math.floor(interval / cell + 0.5);
    if (run < 1 || run > LONGEST_RUN) continue;
    cell += FOLLOWS * (interval / run - cell);
    if (cell > longest) cell = longest;
    else if (cell < shortest) cell = shortest;
    if (at < fromTick) continue;
    const part = Math.min(parts - 1, Math.floor(((at - fromTick) / turnTicks) * parts));
    const off = (interval - run * cell) / cell;
    drifts[part]! += cell / cellTicks - 1;
    squares[part]! += off * off;
    counts[part]!++;
  }
  return Array.from(counts, (n, part) =>
    n > 0
      ? { drift: drifts[part]! / n, spread: Math.sqrt(squares[part]! / n), count: n }
      : { drift: 0, spread: 0, count: 0 },
  );
}

/** Spread over a stretch of the turn, from its parts, in cells; null where nothing was counted. */
export function spreadBetween(
  parts: readonly TimingPart[],
  angle: number,
  span: number,
): number | null {
  let squares = 0;
  let count = 0;
  const first = Math.floor(angle * parts.length);
  for (let i = 0; i < Math.max(1, Math.round(span * parts.length)); i++) {
    const part = parts[(first + i) % parts.length]!;
    squares += part.spread ** 2 * part.count;
    count += part.count;
  }
  return count > 0 ? Math.sqrt(squares / count) : null;
}
