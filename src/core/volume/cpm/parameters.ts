/**
 * Disk parameter sets of CP/M 2.2: what a directory does not say itself. They belong to a layout,
 * or are worked out.
 */
import { bytesOf, type Layout } from '../../layout/layout';
import { SHIPPED_LAYOUTS } from '../../layout/shipped';

export interface CpmParameters {
  /** Bytes of a sector, and sectors of a track. */
  sectorBytes: number;
  sectorsPerTrack: number;
  tracks: number;
  reservedTracks: number;
  blockSize: number;
  directoryEntries: number;
  /** Physical sector, from 1, of each logical one of a track. */
  skew: readonly number[];
}

/** The 8-inch standard's order: every sixth. */
export const SKEW_6 = Object.freeze([
  1, 7, 13, 19, 25, 5, 11, 17, 23, 3, 9, 15, 21, 2, 8, 14, 20, 26, 6, 12, 18, 24, 4, 10, 16, 22,
]);

export const inOrder = (sectors: number) => Array.from({ length: sectors }, (_, i) => i + 1);

/** Sides and sectors of an image, from a layout whose tracks are all alike; null for others. */
export function trackShape(
  layout: Layout,
): Pick<CpmParameters, 'sectorBytes' | 'sectorsPerTrack' | 'tracks'> | null {
  const [rule, ...more] = layout.tracks;
  const sizes = new Set(rule!.sectors.map(({ bytes }) => bytes));
  if (more.length > 0 || sizes.size !== 1) return null;
  return {
    sectorBytes: rule!.sectors[0]!.bytes,
    sectorsPerTrack: rule!.sectors.length,
    tracks: layout.cylinders * layout.heads,
  };
}

/** Shapes that an image of this size may have. */
export function shapesOfSize(
  size: number,
): Pick<CpmParameters, 'sectorBytes' | 'sectorsPerTrack' | 'tracks'>[] {
  const shapes = SHIPPED_LAYOUTS.filter((layout) => bytesOf(layout) === size).flatMap(
    (layout) => trackShape(layout) ?? [],
  );
  return shapes.filter(
    (shape, i) =>
      shapes.findIndex(
        (other) =>
          other.sectorBytes === shape.sectorBytes &&
          other.sectorsPerTrack === shape.sectorsPerTrack,
      ) === i,
  );
}
