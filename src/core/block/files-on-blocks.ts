/** Which files lie on which blocks of a device: what a lost one costs. */
import { dataTracks, isData, type DiscTrack } from '../optical/disc-tracks';
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

type Track = Pick<
  DiscTrack,
  'number' | 'type' | 'startLba' | 'fileSector' | 'sectors' | 'imageSector'
>;

const placedSound = ({ number, fileSector, sectors }: Track): Placed => ({
  path: `track ${number}, sound`,
  from: fileSector,
  to: fileSector + sectors,
});

/**
 * The files of volumes and the tracks of sound, in the order of their first blocks. Of a raw disc
 * the volumes are those of its data: a file that lies in two tracks lies on blocks of both.
 */
export function filesByBlock(
  { blockBytes, tracks }: { blockBytes: number; tracks: readonly Track[] },
  listed: readonly ListedVolume[],
): Placed[] {
  const data = dataTracks(tracks);
  const placed = tracks.filter((track) => !isData(track)).map(placedSound);
  for (const { offset, partition, entries } of listed) {
    for (const { path, kind, deleted, extents } of entries) {
      if (kind !== 'file' || deleted) continue;
      for (const extent of extents) {
        if (extent.offset < 0) continue;
        const own = partition === null ? path : `${partition}/${path}`;
        const bytes = { from: offset + extent.offset, to: offset + extent.offset + extent.length };
        for (const blocks of blocksOf(bytes, blockBytes, data))
          placed.push({ path: own, ...blocks });
      }
    }
  }
  return placed.sort((a, b) => a.from - b.from);
}

type DataTrack = Track & { imageSector: number };

interface Stretch {
  from: number;
  to: number;
}

/** The blocks that bytes of an image lie on. */
function blocksOf({ from, to }: Stretch, blockBytes: number, data: readonly DataTrack[]) {
  if (data.length === 0)
    return [{ from: Math.floor(from / blockBytes), to: Math.ceil(to / blockBytes) }];
  const [first, end] = [Math.floor(from / USER_SECTOR_BYTES), Math.ceil(to / USER_SECTOR_BYTES)];
  return data.flatMap(({ imageSector, fileSector, sectors }): Stretch[] => {
    const start = Math.max(first, imageSector);
    const behind = Math.min(end, imageSector + sectors);
    const moved = fileSector - imageSector;
    return start < behind ? [{ from: start + moved, to: behind + moved }] : [];
  });
}

/** The paths that touch blocks [from, to), each once. */
export const filesOn = (placed: readonly Placed[], from: number, to: number): string[] => [
  ...new Set(placed.filter((each) => each.from < to && each.to > from).map(({ path }) => path)),
];
