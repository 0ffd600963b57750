/** Which files lie on which blocks of a device: what a lost one costs. */
import type { DiscTrack } from '../optical/disc';
import { USER_SECTOR_BYTES } from '../optical/raw-sector';
import type { VolumeEntry } from '../volume/volume';

export interface Placed {
  path: string;
  from: number;
  /** The first block behind it. */
  to: number;
}

interface ListedVolume {
  /** In the image, in bytes. */
  offset: number;
  partition: number | null;
  entries: readonly Pick<VolumeEntry, 'path' | 'kind' | 'deleted' | 'extents'>[];
}

type Track = Pick<DiscTrack, 'number' | 'type' | 'fileSector' | 'sectors'>;

const placedSound = ({ number, fileSector, sectors }: Track): Placed => ({
  path: `track ${number}, sound`,
  from: fileSector,
  to: fileSector + sectors,
});

/**
 * The files of volumes and the tracks of sound, in the order of their first blocks. Of a raw disc
 * the volumes are those of the user bytes of its first track of data.
 */
export function filesByBlock(
  { blockBytes, tracks }: { blockBytes: number; tracks: readonly Track[] },
  listed: readonly ListedVolume[],
): Placed[] {
  const data = tracks.find(({ type }) => type !== 'AUDIO');
  const [unit, first] = data ? [USER_SECTOR_BYTES, data.fileSector] : [blockBytes, 0];
  const placed = tracks.filter(({ type }) => type === 'AUDIO').map(placedSound);
  for (const { offset, partition, entries } of listed) {
    for (const { path, kind, deleted, extents } of entries) {
      if (kind !== 'file' || deleted) continue;
      for (const extent of extents) {
        if (extent.offset >= 0)
          placed.push({
            path: partition === null ? path : `${partition}/${path}`,
            from: first + Math.floor((offset + extent.offset) / unit),
            to: first + Math.ceil((offset + extent.offset + extent.length) / unit),
          });
      }
    }
  }
  return placed.sort((a, b) => a.from - b.from);
}

/** The paths that touch blocks [from, to), each once. */
export const filesOn = (placed: readonly Placed[], from: number, to: number): string[] => [
  ...new Set(placed.filter((each) => each.from < to && each.to > from).map(({ path }) => path)),
];
