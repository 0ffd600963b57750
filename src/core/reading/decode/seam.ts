/**
 * A reading of one turn cuts the sector that lies across the index in two. Its end and its start
 * are put together here, pulse on pulse, as a short reading of its own.
 */
import { encodeUleb128 } from '@/core/bits/varint';
import { firstAtOrAfter } from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';

/** Share of a turn taken from each side of the index. */
const SIDE = 0.35;
/** From this many turns on the index is read across anyway. */
const TURNS_ENOUGH = 1.6;
/** Share of the usual interval within which two transitions at the seam are one. */
const SAME_TRANSITION = 0.25;

function medianInterval(times: Float64Array, count: number): number {
  const intervals = new Float64Array(count);
  for (let i = 0; i < count; i++) intervals[i] = times[i]! - (times[i - 1] ?? 0);
  return intervals.sort()[count >> 1]!;
}

/**
 * The stretch across the index, or null where the reading has it whole or not at all. Its only
 * pulse is the index.
 */
export function spliceAtIndex(
  reading: TrackReading,
  { times, count }: { times: Float64Array; count: number },
): TrackReading | null {
  const { index } = reading;
  const first = index[0];
  const last = index[index.length - 1];
  if (first === undefined || last === undefined || last <= first || count === 0) return null;
  const turn = (last - first) / (index.length - 1);
  if ((times[count - 1]! - first) / turn > TURNS_ENOUGH || first / turn > TURNS_ENOUGH - 1)
    return null;
  const seam = SIDE * turn;
  const near = SAME_TRANSITION * medianInterval(times, count);
  const placesOf = (pulse: number, from: number, to: number) =>
    Array.from(
      times.subarray(
        firstAtOrAfter(times, count, pulse + from),
        firstAtOrAfter(times, count, pulse + to),
      ),
      (time) => time - pulse + seam,
    );
  const before = placesOf(last, -seam, near);
  const end = before[before.length - 1];
  const behind = placesOf(first, -near, seam);
  if (end === undefined || behind.length === 0) return null;
  // The transition at the pulse itself is in both, in one of them or on the wrong side of both.
  const joined = [...before, ...behind.filter((time) => time > end + near)];
  let at = 0;
  const intervals = joined.map((time) => {
    const interval = Math.max(1, Math.round(time - at));
    at += interval;
    return interval;
  });
  return {
    cylinder: reading.cylinder,
    head: reading.head,
    pass: reading.pass,
    index: [Math.round(seam)],
    flux: encodeUleb128(intervals),
  };
}
