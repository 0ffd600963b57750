/**
 * Where in an image no sound reading supplied the bytes: byte ranges, and the sectors that they
 * count as. The one account that pages, manifests, lists and certificates take it from.
 */
import { USER_SECTOR_BYTES } from '../optical/raw-sector';
import { dataTracks, type DiscTrack } from '../optical/disc-tracks';
import type { Extent } from '../volume/volume';
import { unsoundRuns, type ExtentMap } from './extent-map';

export interface Doubts {
  /** In the image, in order. */
  ranges: readonly Extent[];
  /** Bytes of a sector where a range may be many; null where each is one. */
  sectorBytes: number | null;
}

export const NO_DOUBTS: Doubts = Object.freeze({ ranges: [], sectorBytes: null });

/** How many sectors are in doubt; of those that are in it in part too. */
export const sectorsIn = ({ ranges, sectorBytes }: Doubts): number =>
  sectorBytes === null
    ? ranges.length
    : ranges.reduce((sum, { length }) => sum + Math.ceil(length / sectorBytes), 0);

function rangesOf(map: ExtentMap, first: number, end: number, blockBytes: number): Extent[] {
  return unsoundRuns(map, first, end).map(({ from, to }) => ({
    offset: (from - first) * blockBytes,
    length: (to - from) * blockBytes,
  }));
}

/** Of a device that was read block by block; of a raw disc, in its image of data. */
export function doubtsOfBlocks(
  map: ExtentMap,
  blockBytes: number,
  tracks: readonly DiscTrack[],
): Doubts {
  const ofData = dataTracks(tracks);
  if (ofData.length === 0)
    return { ranges: rangesOf(map, 0, map.blocks, blockBytes), sectorBytes: blockBytes };
  const ranges = ofData.flatMap(({ fileSector, sectors, imageSector }) =>
    rangesOf(map, fileSector, fileSector + sectors, USER_SECTOR_BYTES).map(
      ({ offset, length }) => ({ offset: imageSector * USER_SECTOR_BYTES + offset, length }),
    ),
  );
  return { ranges, sectorBytes: USER_SECTOR_BYTES };
}
