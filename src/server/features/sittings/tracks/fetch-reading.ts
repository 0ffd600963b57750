/** One reading from a track drive, in the kind that it delivers. */
import type { TrackDriveDescription } from '@/benchlink/messages';
import type { Approach } from '@/core/reading/plan/approach';
import type { BenchSession } from '@/server/platform/devices/bench-session';
import type { Readings } from './decoded-readings';

export interface AskedReading {
  cylinder: number;
  head: number;
  pass: number;
  revolutions: number;
  approach: Approach;
}

/** Null where the sitting was told to stop meanwhile. */
export async function fetchReading(
  bench: BenchSession,
  drive: string,
  delivers: TrackDriveDescription['delivers'],
  { revolutions, cylinder, head, pass, approach }: AskedReading,
  { signal }: { signal: AbortSignal },
): Promise<Readings | null> {
  const place = { cylinder, head, pass, approach };
  if (delivers === 'sectors') {
    const told = await bench.do((link) => link.readSectors(drive, place, signal));
    return told && { flux: [], controller: [told] };
  }
  const reading = await bench.do((link) =>
    link.readTrack(drive, { ...place, revolutions }, signal),
  );
  return reading && { flux: [reading], controller: [] };
}
