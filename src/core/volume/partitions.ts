/**
 * Master boot records: four partitions, and chains of logical ones within an extended one; nothing
 * in them is trusted.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { said, type Said } from '@/core/said';

const SECTOR = 512;
const TABLE = 0x1be;
const EXTENDED = [0x05, 0x0f, 0x85];
const GUID = 0xee;
const FIRST_LOGICAL = 5;
const MAX_LOGICALS = 64;

export interface Partition {
  /** Primaries 1 to 4, logical ones from 5. */
  number: number;
  type: number;
  offset: number;
  length: number;
}

interface PartitionTable {
  partitions: Partition[];
  problems: Problem[];
}

interface Record {
  status: number;
  type: number;
  start: number;
  sectors: number;
}

function recordsOf(sector: Uint8Array): Record[] | null {
  if (sector.length < SECTOR || sector[510] !== 0x55 || sector[511] !== 0xaa) return null;
  const view = new DataView(sector.buffer, sector.byteOffset, sector.byteLength);
  return [0, 1, 2, 3].map((i) => ({
    status: sector[TABLE + i * 16]!,
    type: sector[TABLE + i * 16 + 4]!,
    start: view.getUint32(TABLE + i * 16 + 8, true),
    sectors: view.getUint32(TABLE + i * 16 + 12, true),
  }));
}

/** The partitions of a disk; null where its first sector holds no table. */
export async function readPartitions(source: ByteSource): Promise<PartitionTable | null> {
  const records = recordsOf(await source.read(0, SECTOR));
  if (!records) return null;
  const used = records.filter(({ type }) => type !== 0);
  const total = Math.floor(source.size / SECTOR);
  // Boot code of a volume that fills the disk ends with the same two bytes.
  if (
    used.length === 0 ||
    !records.every(({ status }) => status === 0 || status === 0x80) ||
    !used.some(({ start, sectors }) => start > 0 && start < total && sectors > 0)
  )
    return null;
  const table: PartitionTable = { partitions: [], problems: [] };
  const report = (offset: number, what: Said) =>
    table.problems.push({ kind: 'partition-damaged', offset, said: what });
  const add = (number: number, type: number, start: number, sectors: number, at: number) => {
    if (start === 0 || start >= total)
      return report(at, said('volume.partitionStartsAtSector', { number, start }));
    if (start + sectors > total)
      report(at, said('volume.partitionEndsAtSector', { number, start: start + sectors, total }));
    const other = table.partitions.find(
      (each) =>
        start * SECTOR < each.offset + each.length && each.offset < (start + sectors) * SECTOR,
    );
    if (other)
      report(at, said('volume.partitionsAndOverlap', { number: other.number, number2: number }));
    table.partitions.push({
      number,
      type,
      offset: start * SECTOR,
      length: Math.min(sectors, total - start) * SECTOR,
    });
  };
  for (const [i, { type, start, sectors }] of records.entries()) {
    if (type === 0) continue;
    const at = TABLE + i * 16;
    if (type === GUID)
      table.problems.push({
        kind: 'unknown-format',
        offset: at,
        said: said('volume.partitionSaysThatA', { i: i + 1 }),
      });
    else if (!EXTENDED.includes(type)) add(i + 1, type, start, sectors, at);
    else await readExtended(source, start, add, report, table);
  }
  table.partitions.sort((a, b) => a.number - b.number);
  return table;
}

async function readExtended(
  source: ByteSource,
  base: number,
  add: (number: number, type: number, start: number, sectors: number, at: number) => void,
  report: (offset: number, what: Said) => void,
  table: PartitionTable,
): Promise<void> {
  const visited = new Set<number>();
  let number = Math.max(FIRST_LOGICAL, ...table.partitions.map((each) => each.number + 1));
  for (let at = base; ;) {
    if (visited.has(at) || visited.size >= MAX_LOGICALS) {
      report(at * SECTOR, said('volume.theChainOfLogical'));
      return;
    }
    visited.add(at);
    const records = recordsOf(await source.read(at * SECTOR, SECTOR));
    if (!records) {
      report(at * SECTOR, said('volume.theRecordOfA', { at }));
      return;
    }
    const logical = records.find(({ type }) => type !== 0 && !EXTENDED.includes(type));
    const next = records.find(({ type }) => EXTENDED.includes(type));
    // A logical partition starts relative to its own record, the next record relative to the first.
    if (logical)
      add(number++, logical.type, at + logical.start, logical.sectors, at * SECTOR + TABLE);
    if (!next || next.start === 0) return;
    at = base + next.start;
  }
}
