/**
 * Master boot records: four partitions, and chains of logical ones within an extended one; nothing
 * in them is trusted.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { numberIn, raw, u32, type RecordLayout, type VolumeArea } from './record';
import { said, type Said } from '@/core/said';

const SECTOR = 512;
const TABLE = 0x1be;
const RECORD = 16;
const RECORDS = 4;
const EXTENDED = [0x05, 0x0f, 0x85];
const GUID = 0xee;
const FIRST_LOGICAL = 5;
const MAX_LOGICALS = 64;

const BOOT_MARK = 0xaa55;

const RECORD_FIELDS = Object.freeze({
  active: raw(0, 1),
  firstPlace: raw(1, 3),
  fileType: raw(4, 1),
  lastPlace: raw(5, 3),
  firstOfSectors: u32(8),
  sectors: u32(12),
}) satisfies RecordLayout;

const TABLE_FIELDS = Object.freeze({
  startingCode: raw(0, 440),
  diskSignature: raw(0x1b8, 4),
  bootMark: raw(0x1fe, 2),
}) satisfies RecordLayout;

export const MASTER_BOOT_RECORD: VolumeArea = Object.freeze<VolumeArea>({
  name: said('areas.masterBootRecord'),
  offset: 0,
  length: SECTOR,
  layout: TABLE_FIELDS,
  records: [
    { offset: TABLE, step: RECORD, count: RECORDS, each: 'partition', layout: RECORD_FIELDS },
  ],
});

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
  if (sector.length < SECTOR || numberIn(sector, TABLE_FIELDS.bootMark) !== BOOT_MARK) return null;
  return Array.from({ length: RECORDS }, (_, i) => TABLE + i * RECORD).map((at) => ({
    status: numberIn(sector, RECORD_FIELDS.active, at),
    type: numberIn(sector, RECORD_FIELDS.fileType, at),
    start: numberIn(sector, RECORD_FIELDS.firstOfSectors, at),
    sectors: numberIn(sector, RECORD_FIELDS.sectors, at),
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
    const at = TABLE + i * RECORD;
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
