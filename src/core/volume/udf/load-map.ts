/** Partition maps of a logical volume with the tables that they lead to (OSTA UDF 2.2.8 to 2.2.13). */
import { said } from '@/core/said';
import { fileMap, plainMap, type BlockMap, type Partition, type OnSectors } from './partition-maps';
import { metadataExtents } from './metadata-file';
import { ascii, viewOf } from './records';
import { readSparing } from './sparing';
import { readVirtualTable } from './virtual-table';

const PLAIN = 1;
const NAMED = 2;
/** Where the name of a map of the second type stands, and its partition's number. */
const NAME = [5, 28] as const;
const NUMBER = 38;
const NAMED_BYTES = 64;

type Loader = (space: OnSectors, map: Uint8Array, partition: Partition) => Promise<BlockMap | null>;

const LOADERS: readonly (readonly [name: string, load: Loader])[] = [
  ['*UDF Sparable Partition', readSparing],
  ['*UDF Virtual Partition', (space, _, partition) => readVirtualTable(space, partition)],
  [
    '*UDF Metadata Partition',
    async (space, map, partition) => {
      const extents = await metadataExtents(space, viewOf(map), partition);
      return extents && fileMap(extents, space.blockBytes);
    },
  ],
];

/** The partition whose own blocks a map gives; null where it gives those of a table or a file. */
export function partitionBy(map: Uint8Array): number | null {
  if (map[0] === PLAIN) return viewOf(map).getUint16(4, true);
  const isSpared = ascii(map.subarray(...NAME)).startsWith(LOADERS[0]![0]);
  return isSpared && map.length >= NAMED_BYTES ? viewOf(map).getUint16(NUMBER, true) : null;
}

/** Null of a kind that is not read here, or whose table is lost; that is told. */
export async function loadMap(
  space: OnSectors,
  map: Uint8Array,
  partitions: ReadonlyMap<number, Partition>,
): Promise<BlockMap | null> {
  const view = viewOf(map);
  if (map[0] === PLAIN) {
    const partition = partitions.get(view.getUint16(4, true));
    return partition ? plainMap(partition, space.blockBytes) : null;
  }
  const name = ascii(map.subarray(...NAME));
  const loader = LOADERS.find(([own]) => map[0] === NAMED && name.startsWith(own));
  if (loader && map.length >= NAMED_BYTES) {
    const partition = partitions.get(view.getUint16(NUMBER, true));
    return partition ? loader[1](space, map, partition) : null;
  }
  const shown = name.replace(/[^\x20-\x7e]/g, '') || `type ${map[0]}`;
  space.problems.report('descriptor-damaged', null, said('udf.aPartitionMapOf', { name: shown }));
  return null;
}
