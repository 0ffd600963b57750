/**
 * The file that holds all entries and directories of a volume, and its mirror (OSTA UDF 2.50,
 * 2.2.10 and 2.2.13).
 */
import { said } from '@/core/said';
import type { Extent } from '../volume';
import { entryAt, type UdfEntry } from './file-entry';
import { blocksBy, plainMap, type Partition, type OnDisc } from './partition-maps';

/** Where the map says that the two stand. */
const MAIN = 40;
const MIRROR = 44;
/** File types of the two. */
const TYPES = [250, 251];

/** Where the blocks of the metadata partition lie; null, and told, where neither file is there. */
export async function metadataExtents(
  space: OnDisc,
  map: DataView,
  partition: Partition,
): Promise<Extent[] | null> {
  const { problems } = space;
  const below = plainMap(partition, space.blockBytes);
  const blocks = blocksBy(() => below, space);
  const fileAt = (field: number) =>
    entryAt(blocks, { block: map.getUint32(field, true), partition: 0 });
  const isThere = (own: UdfEntry | null): own is UdfEntry =>
    own !== null && TYPES.includes(own.fileType) && own.extents.length > 0 && !own.short;
  const main = await fileAt(MAIN);
  if (isThere(main)) return main.extents;
  const mirror = await fileAt(MIRROR);
  if (isThere(mirror)) {
    problems.report('descriptor-damaged', null, said('udf.theMetadataFile'));
    return mirror.extents;
  }
  problems.report('descriptor-damaged', null, said('udf.noMetadataFile'));
  return null;
}
