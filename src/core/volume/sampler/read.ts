/**
 * Partitioned sampler volumes, read and checked: blocks of 8 KiB, up to a hundred volumes a
 * partition, chains by table.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  BlockOwners,
  ProblemList,
  bytesOfExtents,
  extentVolume,
  fileEntry,
  joined,
  pathOf,
} from '../extent-volume';
import { inUnits } from '../own-units';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { said, type Said, type Words } from '@/core/said';

const BLOCK = 0x2000;
const HEADER_BLOCKS = 3;
const VOLUME_TABLE = 0xca;
const VOLUMES = 100;
const CHAIN_TABLE = 0x70a;
const ENTRY = 24;
const PER_BLOCK = 341;
const END_OF_LIST = 0x8000;
const SYSTEM = 0x4000;
const MAX_PARTITIONS = 26;
/** Entries that a directory of each type holds. */
const CAPACITY: Readonly<Record<number, number>> = Object.freeze({ 1: 126, 3: 510, 7: 510 });
/** Of names, by their codes. */
export const SAMPLER_LETTERS = '0123456789 ABCDEFGHIJKLMNOPQRSTUVWXYZ#+-.';

interface SamplerEvidence {
  confidence: number;
  reasons: Said[];
}

const isName = (bytes: Uint8Array) => bytes.every((byte) => byte < SAMPLER_LETTERS.length);
const nameOf = (bytes: Uint8Array) =>
  Array.from(
    bytes,
    (byte) => SAMPLER_LETTERS[byte] ?? `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`,
  )
    .join('')
    .trimEnd();
const viewOf = (bytes: Uint8Array) =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

export async function probeSampler(source: ByteSource): Promise<SamplerEvidence | null> {
  const header = await source.read(0, BLOCK);
  if (header.length < CHAIN_TABLE + 16) return null;
  const view = viewOf(header);
  const size = view.getUint16(0, true);
  if (size < HEADER_BLOCKS + 1 || size >= END_OF_LIST) return null;
  const { right, used } = countVolumes(header, view, size);
  const system = [0, 1, 2].filter(
    (block) => view.getUint16(CHAIN_TABLE + block * 2, true) === SYSTEM,
  ).length;
  const reasons = [
    said('sampler.aFirstPartitionOf', { size }),
    said('sampler.ofVolumeEntriesAre', { right, used }),
  ];
  let confidence = 0.1;
  if (used > 0 && right === used) confidence += 0.4;
  if (system === HEADER_BLOCKS) {
    confidence += 0.3;
    reasons.push(said('sampler.itsHeaderIsMarked'));
  }
  if (size * BLOCK <= source.size + BLOCK) confidence += 0.15;
  return confidence >= 0.6 && used > 0 ? { confidence, reasons } : null;
}

function countVolumes(header: Uint8Array, view: DataView<ArrayBufferLike>, size: number) {
  let used = 0;
  let right = 0;
  for (let i = 0; i < VOLUMES; i++) {
    const at = VOLUME_TABLE + i * 16;
    if (header[at + 12] === 0) continue;
    used++;
    const first = view.getUint16(at + 14, true);
    if (
      CAPACITY[header[at + 12]!] !== undefined &&
      isName(header.subarray(at, at + 12)) &&
      first >= HEADER_BLOCKS &&
      first < size
    )
      right++;
  }
  return { right, used };
}

export async function openSampler(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const entries: VolumeEntry[] = [];
  let freeBlocks = 0;
  let start = 0;
  for (let number = 0; number < MAX_PARTITIONS && (start + 1) * BLOCK <= source.size; number++) {
    const header = await source.read(start * BLOCK, HEADER_BLOCKS * BLOCK);
    const size = header.length >= 2 ? viewOf(header).getUint16(0, true) : 0;
    if (size === 0 || size >= END_OF_LIST) break;
    if (size < HEADER_BLOCKS || header.length < HEADER_BLOCKS * BLOCK) {
      problems.report(
        'partition-damaged',
        start * BLOCK,
        said('sampler.partitionSaysItHas', { number: String.fromCharCode(65 + number), size }),
      );
      break;
    }
    tellCut(start, size, source, problems, number);
    freeBlocks += await new Partition(
      source,
      header,
      start,
      size,
      String.fromCharCode(65 + number),
      problems,
      entries,
    ).read();
    start += size;
  }
  return extentVolume(source, {
    filesystem: 'sampler',
    label: null,
    totalBytes: start * BLOCK,
    freeBytes: freeBlocks * BLOCK,
    entries,
    problems: problems.all(),
  });
}

class Partition {
  private readonly view: DataView;
  private readonly owners: BlockOwners;
  private readonly blocks: number;

  constructor(
    private readonly source: ByteSource,
    private readonly header: Uint8Array,
    private readonly start: number,
    size: number,
    private readonly letter: string,
    private readonly problems: ProblemList,
    private readonly entries: VolumeEntry[],
  ) {
    this.view = viewOf(header);
    this.blocks = Math.min(size, Math.floor((header.length - CHAIN_TABLE) / 2));
    this.owners = new BlockOwners(this.blocks);
  }

  /** Lists all volumes; gives the number of free blocks. */
  async read(): Promise<number> {
    const system = this.owners.owner(said('volume.theSystem'));
    for (let block = 0; block < HEADER_BLOCKS; block++) this.owners.claim(block, system);
    for (let i = 0; i < VOLUMES; i++) {
      const at = VOLUME_TABLE + i * 16;
      const type = this.header[at + 12]!;
      if (type === 0) continue;
      const name = nameOf(this.header.subarray(at, at + 12));
      if (CAPACITY[type] === undefined) {
        this.problems.report(
          'directory-damaged',
          this.start * BLOCK + at,
          said('sampler.volumeOfPartitionHas', { name, letter: this.letter, type }),
        );
        continue;
      }
      await this.readVolume(
        name,
        type,
        this.view.getUint16(at + 14, true),
        this.start * BLOCK + at,
      );
    }
    const free = this.countFree();
    return free;
  }

  private countFree() {
    let free = 0;
    let lost = 0;
    let used = 0;
    for (let block = 0; block < this.blocks; block++) {
      const isFree = this.next(block) === 0;
      if (isFree) free++;
      if (isFree && this.owners.isOwned(block)) used++;
      if (!isFree && !this.owners.isOwned(block) && this.next(block) !== SYSTEM) lost++;
    }
    if (used > 0)
      this.problems.report(
        'map-mismatch',
        null,
        said('sampler.partitionBlocksAreIn', { letter: this.letter, used }),
      );
    if (lost > 0)
      this.problems.report(
        'lost-chain',
        null,
        said('sampler.partitionBlocksAreMarked', { letter: this.letter, lost }),
      );
    return free;
  }

  private next(block: number): number {
    return this.view.getUint16(CHAIN_TABLE + block * 2, true);
  }

  /** Follows a chain by the table, at most `most` blocks of it. */
  private chain(
    first: number,
    name: Words,
    endsWithSystem: boolean,
    most: number,
  ): { blocks: number[]; damaged: boolean } {
    const owner = this.owners.owner(name);
    const blocks: number[] = [];
    const visited = new Set<number>();
    for (let block = first; blocks.length < most;) {
      const at = this.start * BLOCK + CHAIN_TABLE + block * 2;
      if (block < HEADER_BLOCKS || block >= this.blocks) {
        this.problems.report('out-of-range', null, said('sampler.itsChainGoesOn', { name, block }));
        return { blocks, damaged: true };
      }
      if (visited.has(block)) {
        this.problems.report('loop', at, said('sampler.itsChainComesBack', { name, block }));
        return { blocks, damaged: true };
      }
      visited.add(block);
      const other = this.owners.claim(block, owner);
      if (other) {
        this.problems.report(
          'cross-linked',
          at,
          said('sampler.andShareBlock', { name, other, block }),
        );
        return { blocks, damaged: true };
      }
      blocks.push(block);
      const next = this.next(block);
      if (next & 0x8000 || (endsWithSystem && next === SYSTEM)) return { blocks, damaged: false };
      if (next === 0 || next === SYSTEM) {
        this.problems.report(
          next === 0 ? 'map-mismatch' : 'out-of-range',
          at,
          said('sampler.blockIsInUse', { name, block, next }),
        );
        return { blocks, damaged: true };
      }
      block = next;
    }
    return { blocks, damaged: false };
  }

  private async readVolume(name: string, type: number, first: number, at: number): Promise<void> {
    const volumePath = pathOf([this.letter], name, this.problems, at);
    this.entries.push(
      fileEntry({ kind: 'directory', path: volumePath, recordedName: name, bytes: 0, extents: [] }),
    );
    const capacity = CAPACITY[type]!;
    const { blocks } = this.chain(
      first,
      said('sampler.theDirectoryOf', { volumePath }),
      type === 1,
      Math.ceil(capacity / PER_BLOCK) + 1,
    );
    for (let i = 0; i < capacity; i++) {
      const block = blocks[Math.floor(i / PER_BLOCK)];
      if (block === undefined) return;
      const place = (this.start + block) * BLOCK + (i % PER_BLOCK) * ENTRY;
      const entry = await this.source.read(place, ENTRY);
      if (entry.length < ENTRY) return;
      const kind = entry[16]!;
      if (kind === 0) continue;
      const view = viewOf(entry);
      const length = view.getUint16(0x11, true) + entry[0x13]! * 65536;
      const fileFirst = view.getUint16(0x14, true);
      const letter = String.fromCharCode(kind & 0x7f);
      if (!isName(entry.subarray(0, 12)) || !/[a-z]/i.test(letter)) {
        // Behind the last entry of a directory old bytes may stand.
        if (fileFirst >= HEADER_BLOCKS && fileFirst < this.blocks && length > 0)
          this.problems.report(
            'directory-damaged',
            place,
            said('sampler.entryOfIsNo', { i: i + 1, volumePath }),
          );
        continue;
      }
      this.addFile(entry, volumePath, place, fileFirst, length, letter);
    }
  }

  private addFile(
    entry: Uint8Array,
    volumePath: string,
    place: number,
    fileFirst: number,
    length: number,
    letter: string,
  ) {
    const recordedName = nameOf(entry.subarray(0, 12));
    const path = pathOf(volumePath.split('/'), recordedName, this.problems, place);
    const chain = this.chain(fileFirst, path, false, Math.ceil(Math.max(1, length) / BLOCK) + 1);
    const extents: Extent[] = chain.blocks.map((each) => ({
      offset: (this.start + each) * BLOCK,
      length: BLOCK,
    }));
    const there = bytesOfExtents(extents);
    const short = there < length;
    if (short && !chain.damaged)
      this.problems.report(
        'chain-too-short',
        place,
        said('sampler.saysItHasBytes', { path, length, there }),
      );
    this.entries.push(
      fileEntry({
        path,
        recordedName,
        type: letter,
        ownSize: inUnits(Math.ceil(length / BLOCK), 'block'),
        bytes: Math.min(length, there),
        extents: joined(extents),
        damaged: chain.damaged || short,
      }),
    );
  }
}

function tellCut(
  start: number,
  size: number,
  source: ByteSource,
  problems: ProblemList,
  number: number,
) {
  if ((start + size) * BLOCK > source.size)
    problems.report(
      'truncated-image',
      source.size,
      said('sampler.partitionClaimsBlocksThe', {
        number: String.fromCharCode(65 + number),
        size,
      }),
    );
}
