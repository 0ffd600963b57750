/**
 * Whether a field was written as cleanly as those around it. What a drive wrote lies near the
 * raster of its cells, by every turn alike; where a transition was lost, moved or added on the
 * medium, it or its neighbours lie far from it, by every turn alike as well.
 */
import { median } from '@/core/bits/median';
import type { PlacedSighting } from '../track-sector';

/** The transitions of one turn's reading of a field, in ticks from the reading's start. */
export interface FieldTimes {
  times: Float64Array;
  /** Cells from the first of them to the end of the field, and how long each is. */
  cellTicks: number;
}

/** The times of a sighting's data field; null where no turn of a drive shows it. */
type TimesOf = (placed: PlacedSighting) => FieldTimes | null;

/** Whatever the neighbours are, this is clean: a quarter of what makes another cell of it. */
const CLEAN = 0.13;
/** As good as the neighbours. */
const BESIDE = 1.3;
/** Sound sectors that are looked at. */
const NEIGHBOURS = 12;

/**
 * How far the worst interval of a field lies from a whole number of cells by the mean of its turns,
 * in cells; noise that differs from turn to turn averages out. Null where turns can't be laid over
 * each other.
 */
export function worstOff(turns: readonly FieldTimes[]): number | null {
  const [first] = turns;
  if (!first) return null;
  const intervals = first.times.length - 1;
  const sums = new Float64Array(Math.max(0, intervals));
  for (const { times, cellTicks } of turns) {
    if (times.length !== first.times.length) return null;
    for (let i = 0; i < intervals; i++) {
      const cells = (times[i + 1]! - times[i]!) / cellTicks;
      sums[i]! += cells - Math.round(cells);
    }
  }
  return sums.reduce((most, sum) => Math.max(most, Math.abs(sum)), 0) / turns.length;
}

const worstOf = (group: readonly PlacedSighting[], timesOf: TimesOf): number | null =>
  worstOff(group.flatMap((placed) => timesOf(placed) ?? []));

/**
 * `turns` are the readings of the field in question, one a turn; `sound` those of the track's sound
 * sectors, each by its turns.
 */
export function isWrittenCleanly(
  turns: readonly PlacedSighting[],
  sound: readonly (readonly PlacedSighting[])[],
  timesOf: TimesOf,
): boolean {
  const own = worstOf(turns, timesOf);
  if (own === null) return false;
  const others = sound
    .slice(0, NEIGHBOURS)
    .map((group) => worstOf(group, timesOf))
    .filter((worst) => worst !== null);
  return own <= Math.max(CLEAN, BESIDE * median(others));
}
