/** Sparing tables: packets of a rewritable disc that failed and were written elsewhere (UDF 2.2.12). */
import { said } from '@/core/said';
import {
  plainMap,
  sparedMap,
  type BlockMap,
  type Partition,
  type OnSectors,
} from './partition-maps';
import { ascii, viewOf } from './records';
import { readAnyTag } from './tags';

const MOST_TABLES = 4;
const MOST_BYTES = 1 << 20;
/** Fields of the map. */
const PACKET = 40;
const TABLES = 42;
const TABLE_BYTES = 44;
const LOCATIONS = 48;
/** Fields of a table. */
const NAME = [17, 40] as const;
const LENGTH = 48;
const SEQUENCE = 52;
const ENTRIES = 56;
const ENTRY = 8;
/** From here on a first block says that a spare packet is free, or bad. */
const NO_BLOCK = 0xfffffff0;

interface Table {
  sequence: number;
  /** New places by the first block of a packet. */
  moved: Map<number, number>;
}

async function readTable(space: OnSectors, sector: number, length: number): Promise<Table | null> {
  const at = sector * space.sectorBytes;
  const bytes = await space.source.read(at, Math.min(length, MOST_BYTES));
  if (bytes.length < ENTRIES || !ascii(bytes.subarray(...NAME)).startsWith('*UDF Sparing Table'))
    return null;
  // A table's tag has the number 0, which is none of the standard's own.
  const tag = readAnyTag(bytes, sector, at, space.problems);
  if (!tag.sound) return null;
  const view = viewOf(bytes);
  const moved = new Map<number, number>();
  const end = Math.min(bytes.length, ENTRIES + view.getUint16(LENGTH, true) * ENTRY);
  for (let entry = ENTRIES; entry + ENTRY <= end; entry += ENTRY) {
    const block = view.getUint32(entry, true);
    if (block < NO_BLOCK) moved.set(block, view.getUint32(entry + 4, true) * space.sectorBytes);
  }
  return { sequence: view.getUint32(SEQUENCE, true), moved };
}

/** By the newest table that is sound; plainly, and told, where none is. */
export async function readSparing(
  space: OnSectors,
  map: Uint8Array,
  partition: Partition,
): Promise<BlockMap> {
  const view = viewOf(map);
  const [packet, count] = [view.getUint16(PACKET, true), Math.min(map[TABLES]!, MOST_TABLES)];
  const tables: Table[] = [];
  for (let i = 0; i < count && LOCATIONS + 4 * i + 4 <= map.length; i++) {
    const sector = view.getUint32(LOCATIONS + 4 * i, true);
    const table = await readTable(space, sector, view.getUint32(TABLE_BYTES, true));
    if (table) tables.push(table);
  }
  if (tables.length > 0 && tables.length < count)
    space.problems.report('descriptor-damaged', null, said('udf.aSparingTable'));
  const [newest] = tables.sort((a, b) => b.sequence - a.sequence);
  if (newest && packet > 0) return sparedMap(partition, space.blockBytes, packet, newest.moved);
  space.problems.report('descriptor-damaged', null, said('udf.noSparingTable'));
  return plainMap(partition, space.blockBytes);
}
