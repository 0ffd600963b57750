/**
 * A reading of one turn cuts the sector that lies across the index in two. Its end and its start
 * are put together here,
 * pulse on pulse, as a short reading of its own.
 */
import { encodeUleb128 } from '@/core/bits/varint';
import { firstAtOrAfter } from '@/core/encoding';
import type { TrackReading } from '@/core/flux/reading';

/** Share of a turn taken from each side of the index. */
const SIDE = 0.35;
/** From this many turns on the index is read across anyway. */
const TURNS_ENOUGH = 1.6;

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
  const before = Array.from(
    times.subarray(
      firstAtOrAfter(times, count, last - SIDE * turn),
      firstAtOrAfter(times, count, last),
    ),
    (time) => time - last + SIDE * turn,
  );
  const behind = Array.from(
    times.subarray(
      firstAtOrAfter(times, count, first),
      firstAtOrAfter(times, count, first + SIDE * turn),
    ),
    (time) => time - first + SIDE * turn,
  );
  if (before.length === 0 || behind.length === 0) return null;
  let at = 0;
  const intervals = [...before, ...behind].map((time) => {
    const interval = Math.max(1, Math.round(time - at));
    at += interval;
    return interval;
  });
  return {
    cylinder: reading.cylinder,
    head: reading.head,
    pass: reading.pass,
    index: [Math.round(SIDE * turn)],
    flux: encodeUleb128(intervals),
  };
}
