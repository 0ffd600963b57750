/**
 * Master boot records: four partitions, and chains of logical ones within an extended one; nothing
 * in them is trusted.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import type { Problem } from '@/core/problems';
import { elsewhereByPlaces } from './places';
import { bootSectorsIn } from './boot-sectors';
import { numberIn, raw, u24, u32, type RecordLayout, type VolumeArea } from '../record';
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

const ACTIVE = 0x80;

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
  /** Its place in its sector. */
  at: number;
  status: number;
  type: number;
  start: number;
  sectors: number;
  firstPlace: number;
  lastPlace: number;
}

const hasMark = (sector: Uint8Array): boolean =>
  numberIn(sector, TABLE_FIELDS.bootMark) === BOOT_MARK;

function recordsOf(sector: Uint8Array): Record[] | null {
  if (sector.length < SECTOR) return null;
  return Array.from({ length: RECORDS }, (_, i) => TABLE + i * RECORD).map((at) => ({
    at,
    status: numberIn(sector, RECORD_FIELDS.active, at),
    type: numberIn(sector, RECORD_FIELDS.fileType, at),
    start: numberIn(sector, RECORD_FIELDS.firstOfSectors, at),
    sectors: numberIn(sector, RECORD_FIELDS.sectors, at),
    firstPlace: numberIn(sector, FIRST_PLACE, at),
    lastPlace: numberIn(sector, LAST_PLACE, at),
  }));
}

/** Cylinder, head and sector of a record's ends: three bytes that agree with the sectors, or not. */
const [FIRST_PLACE, LAST_PLACE] = [u24(1), u24(5)];

/** A record that could be true of a disk of which so many sectors are there. */
const isPossible = ({ start, sectors }: Record, total: number): boolean =>
  start > 0 && start < total && sectors > 0;

const hasUsualStatus = ({ status }: Record): boolean => status === 0 || status === ACTIVE;

/**
 * The records of a table, or null where none is: a mark behind it and one record that is possible
 * are enough; without the mark, or with what can't be, the others must all be.
 */
function tableIn(sector: Uint8Array, total: number): Record[] | null {
  const used = recordsOf(sector)?.filter(({ type }) => type !== 0) ?? [];
  const possible = used.filter((record) => isPossible(record, total));
  if (possible.length === 0) return null;
  const odd = used.filter((record) => !hasUsualStatus(record));
  // Boot code of a volume that fills the disk ends with the same two bytes.
  if (hasMark(sector)) return odd.length * 2 <= used.length || used.length === 1 ? used : null;
  const isSound =
    odd.length === 0 &&
    possible.length === used.length &&
    possible.every(({ lastPlace }) => lastPlace !== 0);
  return isSound ? used : null;
}

/** Of a primary partition, by the place of its record. */
const numberOf = ({ at }: Record): number => (at - TABLE) / RECORD + 1;

class TableReader {
  readonly table: PartitionTable = { partitions: [], problems: [] };

  constructor(private readonly total: number) {}

  report(offset: number, what: Said, kind: Problem['kind'] = 'partition-damaged'): void {
    this.table.problems.push({ kind, offset, said: what });
  }

  /** What is odd about a record and does not keep it from being read. */
  tellOddities(record: Record, number: number): void {
    const { at, status } = record;
    if (!hasUsualStatus(record))
      this.report(at, said('volume.partitionHasAnOddStatus', { number, status }));
  }

  /** Which of them old systems would look for elsewhere. */
  tellPlaces(records: readonly Record[]): void {
    const placed = records.map((record) => ({
      ...record,
      number: numberOf(record),
      first: record.firstPlace,
      last: record.lastPlace,
    }));
    for (const number of elsewhereByPlaces(placed))
      this.report(TABLE + (number - 1) * RECORD, said('volume.partitionIsElsewhere', { number }));
  }

  add(number: number, type: number, start: number, sectors: number, at: number): void {
    const { partitions } = this.table;
    if (start === 0 || start >= this.total)
      return this.report(at, said('volume.partitionStartsAtSector', { number, start }));
    const end = start + sectors;
    if (end > this.total)
      this.report(
        at,
        said('volume.partitionEndsAtSector', { number, start: end, total: this.total }),
      );
    const other = partitions.find(
      (each) => start * SECTOR < each.offset + each.length && each.offset < end * SECTOR,
    );
    if (other)
      this.report(
        at,
        said('volume.partitionsAndOverlap', { number: other.number, number2: number }),
      );
    partitions.push({
      number,
      type,
      offset: start * SECTOR,
      length: Math.min(sectors, this.total - start) * SECTOR,
    });
  }

  /** Volumes that no record leads to, from one sector to another, by their own boot sectors. */
  async addLost(source: ByteSource, from: number, to: number, first: number): Promise<void> {
    let number = Math.max(first, ...this.table.partitions.map((each) => each.number + 1));
    for (const { start, sectors } of await bootSectorsIn(source, from, to)) {
      const isKnown = this.table.partitions.some(
        ({ offset, length }) => start * SECTOR >= offset && start * SECTOR < offset + length,
      );
      if (isKnown) continue;
      this.report(start * SECTOR, said('volume.aVolumeBeginsAt', { number, start }));
      this.add(number++, 0, start, sectors, start * SECTOR);
    }
  }
}

/** The partitions of a disk; null where its first sector holds no table. */
export async function readPartitions(source: ByteSource): Promise<PartitionTable | null> {
  const sector = await source.read(0, SECTOR);
  const total = Math.floor(source.size / SECTOR);
  const used = tableIn(sector, total);
  if (!used) return null;
  const reader = new TableReader(total);
  if (!hasMark(sector)) reader.report(0, said('volume.theTableLacksIts'));
  for (const record of used) {
    const { at, type, start, sectors } = record;
    const number = numberOf(record);
    reader.tellOddities(record, number);
    if (type === GUID)
      reader.report(at, said('volume.partitionSaysThatA', { i: number }), 'unknown-format');
    else if (!EXTENDED.includes(type)) reader.add(number, type, start, sectors, at);
    else await readExtended(source, start, Math.min(total, start + sectors), reader);
  }
  reader.tellPlaces(used);
  reader.table.partitions.sort((a, b) => a.number - b.number);
  return reader.table;
}

/** Volumes of a disk whose table is lost; null where none begins anywhere. */
export async function lostPartitions(source: ByteSource): Promise<PartitionTable | null> {
  const total = Math.floor(source.size / SECTOR);
  const reader = new TableReader(total);
  await reader.addLost(source, 1, total, 1);
  return reader.table.partitions.length > 0 ? reader.table : null;
}

async function readExtended(
  source: ByteSource,
  base: number,
  end: number,
  reader: TableReader,
): Promise<void> {
  const visited = new Set<number>();
  const numbers = reader.table.partitions.map((each) => each.number + 1);
  let number = Math.max(FIRST_LOGICAL, ...numbers);
  for (let at = base; ;) {
    const isEndless = visited.has(at) || visited.size >= MAX_LOGICALS;
    const sector = isEndless ? null : await source.read(at * SECTOR, SECTOR);
    const records = sector && hasMark(sector) ? recordsOf(sector) : null;
    if (!records) {
      const what = isEndless
        ? said('volume.theChainOfLogical')
        : said('volume.theRecordOfA', { at });
      reader.report(at * SECTOR, what);
      return reader.addLost(source, at, end, FIRST_LOGICAL);
    }
    visited.add(at);
    const logical = records.find(({ type }) => type !== 0 && !EXTENDED.includes(type));
    const next = records.find(({ type }) => EXTENDED.includes(type));
    // A logical partition starts relative to its own record, the next record relative to the first.
    if (logical)
      reader.add(number++, logical.type, at + logical.start, logical.sectors, at * SECTOR + TABLE);
    if (!next || next.start === 0) return;
    at = base + next.start;
  }
}
