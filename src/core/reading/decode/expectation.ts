/** What a layout has on one track, and what of it is there. */
import { formatAt, recordedId, sectorKey, type Layout, type TrackRule } from '@/core/layout/layout';
import { isSound } from '../grades';
import { missingSector } from '../merge/merge';
import { type TrackSector } from '../track-sector';

export interface ExpectedSector {
  c: number;
  h: number | null;
  r: number;
  n: number | null;
  size: number;
}

export interface Expectation {
  format: TrackRule;
  sectors: readonly ExpectedSector[];
  keys: ReadonlySet<number>;
}

/** How a drive's steps stand to a layout's cylinders: one each, or two. */
export type Stepping = 1 | 2;

/**
 * What stands on the track at a drive's position; null where the layout has none there, or it lies
 * between two cylinders.
 */
export function expectationAt(
  layout: Layout,
  stepping: Stepping,
  position: number,
  head: number,
): Expectation | null {
  if (position % stepping !== 0) return null;
  const cylinder = position / stepping;
  const format = formatAt(layout, cylinder, head);
  if (!format) return null;
  const sectors = format.sectors.map((sector) => ({
    ...recordedId(layout, format.encoding, cylinder, head, sector),
    size: sector.bytes,
  }));
  return { format, sectors, keys: new Set(sectors.map(({ r, size }) => sectorKey(r, size))) };
}

/** Expected sectors that are not among `sectors`, as lost or unread. */
export function missingOf(
  { format, sectors: expected }: Expectation,
  position: number,
  head: number,
  sectors: readonly TrackSector[],
  grade: 'lost' | 'unread',
): TrackSector[] {
  const found = new Set(sectors.map(({ r, size }) => sectorKey(r, size)));
  return expected
    .filter(({ r, size }) => !found.has(sectorKey(r, size)))
    .map(({ size, ...id }) => missingSector(position, head, format.encoding, id, size, grade));
}

/** Every expected sector is sound. */
export function isWhole({ keys }: Expectation, sectors: readonly TrackSector[]): boolean {
  const sound = new Set(
    sectors.filter(({ grade }) => isSound(grade)).map(({ r, size }) => sectorKey(r, size)),
  );
  for (const key of keys) if (!sound.has(key)) return false;
  return true;
}
