/** Where a track is looked at again: across the seam of two turns, and where no sector was found. */
import { RECOVERIES, classifyFlux, type FluxClass, type ReadingDecode } from '@/core/encoding';
import type { TrackSector } from '../track-sector';
import { spliceAtIndex } from './seam';
import type { TrackTimes } from './track-times';
import { coveredBy, type TrackWork } from './track-work';
import { arcReading, findUnexplainedSpans } from './unexplained-spans';

/** Cells as long as the track's own within this share are its own code again. */
const SAME_CELL = 0.04;

const NO_STARTS = { badIds: [], strays: [] };

/** Joins the end of each reading to its beginning, and looks for what lies across the index. */
export function lookAcrossIndex(work: TrackWork, times: TrackTimes, flux: FluxClass): void {
  const { tickHz } = work.drive;
  const { encoding, cellTicks } = flux;
  for (let at = 0; at < work.fromDrive; at++) {
    const joined = spliceAtIndex(work.readings[at]!, times.of(at));
    if (!joined) continue;
    const pulse = joined.index[0]!;
    const place = times.add(joined);
    work.readings[place] = joined;
    for (const recovery of RECOVERIES) {
      const decoded = work.encodings(encoding).decode(joined, { tickHz, recovery, cellTicks });
      // What lies on one side only was read there already, and must not count twice.
      work.note(
        place,
        { ...decoded, ...NO_STARTS },
        ({ sighting }) => sighting.startTick < pulse && sighting.endTick > pulse,
      );
    }
  }
}

/** Looks for another code or rate where no sector was found. */
export function lookIntoArcs(
  work: TrackWork,
  times: TrackTimes,
  primary: FluxClass,
  sectors: readonly TrackSector[],
): void {
  for (const arc of findUnexplainedSpans(coveredBy(sectors))) {
    for (let at = 0; at < work.fromDrive; at++) {
      const cut = arcReading(work.readings[at]!, times.of(at), arc, work.turnOf(at));
      if (cut) lookIntoArc(work, at, cut, primary);
    }
  }
}

const isSameCode = (one: FluxClass, other: FluxClass): boolean =>
  one.encoding === other.encoding && Math.abs(one.cellTicks / other.cellTicks - 1) < SAME_CELL;

function lookIntoArc(
  work: TrackWork,
  at: number,
  { part, base }: NonNullable<ReturnType<typeof arcReading>>,
  primary: FluxClass,
): void {
  const { tickHz } = work.drive;
  for (const flux of classifyFlux(part.flux, tickHz, null)) {
    if (isSameCode(flux, primary)) continue;
    const { encoding, cellTicks } = flux;
    for (const recovery of ['stepped', 'loop'] as const) {
      const decoded = work.encodings(encoding).decode(part, { tickHz, recovery, cellTicks });
      work.note(at, { sightings: moved(decoded, base), ...NO_STARTS });
    }
  }
}

/** Sightings of a part, at their places in the whole reading. */
const moved = ({ sightings }: ReadingDecode, base: number) =>
  sightings.map((sighting) => ({
    ...sighting,
    startTick: sighting.startTick + base,
    endTick: sighting.endTick + base,
    syncTick: sighting.syncTick + base,
  }));
