/**
 * Partitioned sampler volumes written: files and volumes put, removed and renamed in the blocks that
 * the table of chains says are free, the lowest first. A volume is a folder of its partition.
 */
import { said, type Said } from '@/core/said';
import { bytesIn, numberIn, putNumber } from '../record';
import {
  VolumeRefusal,
  partsOfPath,
  plainCapitals,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import {
  BLOCK,
  CAPACITY,
  END_OF_LIST,
  ENTRY,
  ENTRY_FIELDS,
  FILE_HEADER,
  FILE_MARK,
  HEADER_BLOCKS,
  LARGER,
  NAME_BYTES,
  PARTITION_HEADER,
  PER_BLOCK,
  PROGRAM_HEADER,
  SAMPLE_HEADER,
  SYSTEM,
  VOLUME,
  VOLUMES,
  VOLUME_FIELDS,
  nameBytes,
} from './records';
import { linkIn, volumesIn } from './header';
import { WritablePartition } from './writable-partition';

const ALLOWED = /^[0-9A-Z #+\-.]$/;
const MOST_BYTES = 2 ** 24 - 1;
const MOST_PARTITIONS = 26;
/** Of a volume that is made where its partition has none to go by: 510 files. */
const USUAL_TYPE = 3;

/** The partitions that an image holds whole. */
function partitionsOf(image: Uint8Array): WritablePartition[] {
  const partitions: WritablePartition[] = [];
  for (let start = 0; partitions.length < MOST_PARTITIONS;) {
    const rest = image.subarray(start);
    const blocks = rest.length < BLOCK ? 0 : numberIn(rest, PARTITION_HEADER.blocks);
    if (blocks === 0 || blocks >= END_OF_LIST) break;
    const letter = String.fromCharCode(65 + partitions.length);
    const bytes = rest.subarray(0, blocks * BLOCK);
    const isWhole = blocks > HEADER_BLOCKS && bytes.length === blocks * BLOCK;
    if (!isWhole || [0, 1, 2].some((block) => linkIn(bytes, block) !== SYSTEM))
      throw new VolumeRefusal('damaged', said('sampler.cantBeChanged', { letter }));
    partitions.push(new WritablePartition(bytes, letter));
    start += bytes.length;
  }
  return partitions;
}

/** Where a path leads. */
interface Place {
  partition: WritablePartition;
  volume: number;
  file: number | null;
}

export class WritableSampler implements WritableVolume {
  readonly filesystem = 'sampler';
  readonly hasFolders = true;
  readonly keeps = ['type'] as const;
  private readonly partitions: readonly WritablePartition[];

  constructor(readonly image: Uint8Array) {
    this.partitions = partitionsOf(image);
    if (this.partitions.length === 0)
      throw new VolumeRefusal('damaged', said('sampler.cantBeChanged', { letter: 'A' }));
  }

  refuseName(name: string): Said | null {
    if (name.trim() === '' || name.length > NAME_BYTES || name.endsWith(' '))
      return said('sampler.aNameIsUp', { most: NAME_BYTES });
    const wrong = [...name].find((char) => !ALLOWED.test(char));
    return wrong ? said('volume.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const dot = wished.lastIndexOf('.');
    const stem = dot > 0 ? wished.slice(0, dot) : wished;
    return plainCapitals(stem, ALLOWED, '-').trim().slice(0, NAME_BYTES).trimEnd() || 'SOUND';
  }

  cost(bytes: number): number {
    return Math.max(1, Math.ceil(bytes / BLOCK));
  }

  room(): Room {
    const sum = (of: (partition: WritablePartition) => number) =>
      this.partitions.reduce((total, partition) => total + of(partition), 0);
    return {
      unit: 'block',
      unitBytes: BLOCK,
      total: sum(({ total }) => total),
      free: sum((partition) => partition.freeBlocks().length),
      entries: sum((partition) => partition.freeVolumes()),
    };
  }

  /** The bytes of a file; null where there is none. */
  read(path: string): Uint8Array | null {
    const { partition, file } = this.placeOf(path);
    if (file === null) return null;
    const blocks = partition.blocksOf(file);
    const bytes = numberIn(partition.bytes, ENTRY_FIELDS.bytes, file);
    const all = new Uint8Array(blocks.length * BLOCK);
    for (const [i, block] of blocks.entries())
      all.set(partition.bytes.subarray(block * BLOCK, (block + 1) * BLOCK), i * BLOCK);
    return all.subarray(0, bytes);
  }

  /** Whether the headers of a file are of the larger kind, by its entry. */
  hasLargerHeader(path: string): boolean {
    const { partition, file } = this.placeOf(path);
    return file !== null && (codeAt(partition, file) & LARGER) !== 0;
  }

  put(path: string, bytes: Uint8Array, { type }: FileAttributes = {}): void {
    const parts = partsOfPath(path);
    const { partition, volume, file } = this.placeOf(path);
    if (parts.length < 3) throw new VolumeRefusal('is-folder', said('volume.isAFolder', { path }));
    const name = parts[2]!;
    const refused = file === null ? this.refuseName(name) : null;
    if (refused) throw new VolumeRefusal('name', refused);
    const kept = file ?? partition.filesOf(volume)[0] ?? null;
    const code = codeOf(
      bytes,
      type,
      file === null ? null : codeAt(partition, file),
      kept !== null && (codeAt(partition, kept) & LARGER) !== 0,
    );
    const before = file === null ? [] : partition.blocksOf(file);
    const needed = this.cost(bytes.length);
    refuseFull(partition, { path, bytes: bytes.length, needed, freed: before.length });
    const at = file ?? openSlot(partition, volume, path);
    partition.release(before);
    const blocks = partition.take(needed);
    partition.write(blocks, bytes);
    const own = partition.bytes;
    if (file === null) own.set(nameBytes(name), at);
    putNumber(own, ENTRY_FIELDS.fileType, code, at);
    putNumber(own, ENTRY_FIELDS.bytes, bytes.length, at);
    putNumber(own, ENTRY_FIELDS.firstBlock, blocks[0]!, at);
  }

  remove(path: string): void {
    const { partition, volume, file } = this.placeOf(path);
    if (file !== null) {
      partition.release(partition.blocksOf(file));
      partition.dropEntry(volume, file);
      return;
    }
    this.refuseMissing(path);
    if (partition.filesOf(volume).length > 0)
      throw new VolumeRefusal('not-empty', said('volume.theFolderIsNot', { path }));
    partition.release(partition.directoryOf(volume));
    partition.bytes.fill(0, volume, volume + VOLUME);
  }

  rename(path: string, name: string): void {
    this.refuseMissing(path);
    const { partition, volume, file } = this.placeOf(path);
    if (file === null) {
      refuseNewName(this, name, partition.findVolume(name), volume);
      partition.bytes.set(nameBytes(name), volume);
      return;
    }
    refuseNewName(this, name, partition.findFile(volume, name), file);
    renameInside(partition, file, name);
    partition.bytes.set(nameBytes(name), file);
  }

  makeFolder(path: string): void {
    const [letter, name, ...more] = partsOfPath(path);
    if (name === undefined || more.length > 0)
      throw new VolumeRefusal('no-folders', said('sampler.foldersAreVolumes'));
    const partition = this.partitionOf(letter!);
    refuseNewName(this, name, partition.findVolume(name));
    const at = partition.openVolume();
    if (at === null)
      throw new VolumeRefusal(
        'directory-full',
        said('sampler.partitionIsFull', { letter: partition.letter, volumes: VOLUMES }),
      );
    const type = volumesIn(partition.bytes)[0]?.type ?? USUAL_TYPE;
    const needed = Math.ceil(CAPACITY[type]! / PER_BLOCK);
    refuseFull(partition, { path, bytes: 0, needed, freed: 0 });
    const blocks = partition.take(needed);
    partition.write(blocks, new Uint8Array(0));
    partition.bytes.set(nameBytes(name), at);
    putNumber(partition.bytes, VOLUME_FIELDS.fileType, type, at);
    putNumber(partition.bytes, VOLUME_FIELDS.firstBlock, blocks[0]!, at);
  }

  setAttributes(path: string, { type }: FileAttributes): void {
    this.refuseMissing(path);
    const { partition, file } = this.placeOf(path);
    if (type === undefined || file === null) return;
    const code = letterCode(type) | (codeAt(partition, file) & LARGER);
    putNumber(partition.bytes, ENTRY_FIELDS.fileType, code, file);
  }

  private partitionOf(letter: string): WritablePartition {
    const partition = this.partitions.find((each) => each.letter === letter);
    if (!partition)
      throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part: letter }));
    return partition;
  }

  /** The volume must be there; the file, where the path has one, need not. */
  private placeOf(path: string): Place {
    const [letter, name, own, ...more] = partsOfPath(path);
    const partition = this.partitionOf(letter!);
    if (name === undefined || more.length > 0)
      throw new VolumeRefusal('no-folders', said('sampler.foldersAreVolumes'));
    const volume = partition.findVolume(name);
    if (volume === null)
      throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part: name }));
    return { partition, volume, file: own === undefined ? null : partition.findFile(volume, own) };
  }

  private refuseMissing(path: string): void {
    if (partsOfPath(path).length > 2 && this.placeOf(path).file === null)
      throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
  }
}

const codeAt = (partition: WritablePartition, file: number): number =>
  numberIn(partition.bytes, ENTRY_FIELDS.fileType, file);

function letterCode(type: string): number {
  if (!/^[a-z]$/.test(type)) throw new VolumeRefusal('kind', said('sampler.filesHereAre'));
  return type.charCodeAt(0);
}

/**
 * The code of a file's kind: by the letter that was given, that it has, or that its first byte tells;
 * with the top bit where its header is of the larger kind. A length that tells neither kind leaves it
 * as what is there has it: the file, or the first of its volume.
 */
function codeOf(
  bytes: Uint8Array,
  type: string | undefined,
  before: number | null,
  isLargerThere: boolean,
): number {
  const kept = before === null ? undefined : String.fromCharCode(before & ~LARGER);
  const letter = letterCode(type ?? kept ?? letterByContent(bytes));
  return letter | ((isLarger(bytes) ?? isLargerThere) ? LARGER : 0);
}

function letterByContent(bytes: Uint8Array): string {
  if (bytes[0] === FILE_MARK.sample) return 's';
  return bytes[0] === FILE_MARK.program ? 'p' : '';
}

/** Of which kind the headers of a file are by its length; null where it is that of neither. */
function isLarger(bytes: Uint8Array): boolean | null {
  const { usual, larger } = FILE_HEADER;
  if (bytes.length < usual || !letterByContent(bytes)) return null;
  const lengthOf = (header: number): number =>
    bytes[0] === FILE_MARK.sample
      ? header + 2 * numberIn(bytes, SAMPLE_HEADER.samples)
      : header * (1 + numberIn(bytes, PROGRAM_HEADER.keyGroups));
  if (lengthOf(usual) === bytes.length) return false;
  return lengthOf(larger) === bytes.length || null;
}

interface Wanted {
  path: string;
  bytes: number;
  needed: number;
  freed: number;
}

function refuseFull(partition: WritablePartition, { path, bytes, needed, freed }: Wanted): void {
  if (bytes > MOST_BYTES)
    throw new VolumeRefusal('too-large', said('sampler.isTooLarge', { path, most: MOST_BYTES }));
  const free = partition.freeBlocks().length + freed;
  if (needed > free) {
    const { letter } = partition;
    throw new VolumeRefusal('full', said('sampler.hasBlocksFree', { letter, free, path, needed }));
  }
}

/** The first entry of a directory that is free. */
function openSlot(partition: WritablePartition, volume: number, path: string): number {
  const slots = partition.slotsOf(volume);
  const at = slots.find((each) => codeAt(partition, each) === 0);
  if (at === undefined)
    throw new VolumeRefusal(
      'directory-full',
      said('sampler.volumeIsFull', { path, files: slots.length }),
    );
  partition.bytes.fill(0, at, at + ENTRY);
  return at;
}

/** Samples and programs have their name in their own header too. */
function renameInside(partition: WritablePartition, file: number, name: string): void {
  const { bytes } = partition;
  const header = partition.blocksOf(file)[0]! * BLOCK;
  const own = bytesIn(bytes, SAMPLE_HEADER.name, header);
  const recorded = bytesIn(bytes, ENTRY_FIELDS.name, file);
  if (own.every((byte, i) => byte === recorded[i])) own.set(nameBytes(name));
}
