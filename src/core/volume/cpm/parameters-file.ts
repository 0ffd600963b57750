/**
 * Disk parameter sets as files give them, checked. Apart from the sets themselves: most images need
 * none, and no schema with it.
 */
import { z } from 'zod';
import type { Layout } from '../../layout/layout';
import { inOrder, trackShape, type CpmParameters } from './parameters';

/** A parameter set as a file gives it: with the id of a layout, or with the shape of its tracks. */
export const ParametersFile = z.object({
  layout: z.string().optional(),
  sectorBytes: z.int().min(128).max(8192).optional(),
  sectorsPerTrack: z.int().min(1).max(255).optional(),
  tracks: z.int().min(1).max(512).optional(),
  reservedTracks: z.int().min(0).max(255),
  blockSize: z
    .int()
    .min(1024)
    .max(16384)
    .refine(
      (size) => (size & (size - 1)) === 0,
      'a block is 1024, 2048, 4096, 8192 or 16384 bytes',
    ),
  directoryEntries: z.int().min(16).max(4096),
  skew: z.array(z.int().min(1).max(255)).optional(),
});

/** Null where the layout is not known or its tracks are not alike. */
export function parametersOf(
  file: z.output<typeof ParametersFile>,
  layouts: readonly Layout[],
): CpmParameters | null {
  const layout = layouts.find(({ id }) => id === file.layout);
  const shape = layout
    ? trackShape(layout)
    : file.sectorBytes && file.sectorsPerTrack && file.tracks
      ? {
          sectorBytes: file.sectorBytes,
          sectorsPerTrack: file.sectorsPerTrack,
          tracks: file.tracks,
        }
      : null;
  if (!shape) return null;
  const skew = file.skew ?? inOrder(shape.sectorsPerTrack);
  if (
    skew.length !== shape.sectorsPerTrack ||
    new Set(skew).size !== skew.length ||
    Math.max(...skew) > shape.sectorsPerTrack
  )
    return null;
  return {
    ...shape,
    reservedTracks: file.reservedTracks,
    blockSize: file.blockSize,
    directoryEntries: file.directoryEntries,
    skew,
  };
}
