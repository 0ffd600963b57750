/**
 * Stretches of a turn that no sector found so far explains: what else may lie there is looked for
 * apart.
 */
import { encodeUleb128 } from '@/core/bits/varint';
import { firstAtOrAfter } from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';

/** Gaps of usual layouts are shorter than this share of a turn. */
const OPEN_ARC = 0.12;

interface Arc {
  from: number;
  to: number;
}

/**
 * Uncovered stretches longer than `OPEN_ARC`, as shares of a turn; `to` may pass 1 where one lies
 * across the index.
 */
export function findUnexplainedSpans(covered: readonly { angle: number; span: number }[]): Arc[] {
  if (covered.length === 0) return [{ from: 0, to: 1 }];
  const sorted = [...covered].sort((a, b) => a.angle - b.angle);
  const arcs: Arc[] = [];
  let end = Math.max(...sorted.map(({ angle, span }) => angle + span)) - 1;
  for (const { angle, span } of sorted) {
    if (angle - end > OPEN_ARC) arcs.push({ from: end, to: angle });
    end = Math.max(end, angle + span);
  }
  return arcs.map(({ from, to }) => (from < 0 ? { from: from + 1, to: to + 1 } : { from, to }));
}

/**
 * A stretch of a reading as a reading of its own, with its first tick in the whole; null where the
 * reading has it not.
 */
export function arcReading(
  reading: TrackReading,
  { times, count }: { times: Float64Array; count: number },
  arc: Arc,
  turnTicks: number,
): { part: TrackReading; base: number } | null {
  const pulse = reading.index[0] ?? 0;
  const from = firstAtOrAfter(times, count, pulse + arc.from * turnTicks);
  const to = firstAtOrAfter(times, count, pulse + arc.to * turnTicks);
  if (to - from < 64) return null;
  const intervals: number[] = [];
  for (let i = from + 1; i < to; i++) intervals.push(times[i]! - times[i - 1]!);
  const base = times[from]!;
  const { cylinder, head, pass } = reading;
  return { part: { cylinder, head, pass, index: [], flux: encodeUleb128(intervals) }, base };
}
