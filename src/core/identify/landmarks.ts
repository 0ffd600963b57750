/**
 * How far a block device is worth reading, by its own tables: what volumes use, where the last one
 * ends, everything.
 */
import { said, type Said } from '@/core/said';
import type { Identification } from './identify';

export interface Landmark {
  name: Said;
  /** The first block behind it. */
  to: number;
}

/**
 * `found` is what was identified on the device, of `blocks` blocks; sorted, without two at one
 * place.
 */
export function landmarksOf(found: Identification, blocks: number, blockBytes: number): Landmark[] {
  const upTo = (bytes: number) => Math.min(blocks, Math.ceil(bytes / blockBytes));
  const inUse = Math.max(
    0,
    ...found.volumes.flatMap(({ volume, offset }) =>
      volume.entries.flatMap(({ extents }) =>
        extents.map((extent) => offset + Math.max(0, extent.offset) + extent.length),
      ),
    ),
  );
  const lastVolume = Math.max(
    0,
    ...found.volumes.map(
      ({ offset, volume, length }) => offset + Math.min(length, volume.totalBytes || length),
    ),
    ...found.partitions.map(({ offset, length }) => offset + length),
  );
  const marks: Landmark[] = [
    { name: said('plan.inUse'), to: upTo(inUse) },
    { name: said('plan.endOfTheLastVolume'), to: upTo(lastVolume) },
    { name: said('plan.everything'), to: blocks },
  ];
  return marks
    .filter(({ to }, i) => to > 0 && !marks.slice(i + 1).some((later) => later.to === to))
    .sort((a, b) => a.to - b.to);
}
