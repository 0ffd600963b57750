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
import { bytesIn, numberIn, u16 } from '../record';
import {
  BLOCK,
  CAPACITY,
  CHAIN_TABLE,
  END_OF_LIST,
  ENTRY,
  ENTRY_FIELDS,
  HEADER_BLOCKS,
  PARTITION_HEADER,
  PER_BLOCK,
  SYSTEM,
  VOLUME,
  VOLUMES,
  VOLUME_FIELDS,
  VOLUME_TABLE,
  isName,
  nameOf,
} from './records';
import { said, type Said, type Words } from '@/core/said';

const MAX_PARTITIONS = 26;

interface SamplerEvidence {
  confidence: number;
  reasons: Said[];
}

export async function probeSampler(source: ByteSource): Promise<SamplerEvidence | null> {
  const header = await source.read(0, BLOCK);
  if (header.length < CHAIN_TABLE + 16) return null;
  const size = numberIn(header, PARTITION_HEADER.blocks);
  if (size < HEADER_BLOCKS + 1 || size >= END_OF_LIST) return null;
  const { right, used } = countVolumes(header, size);
  const system = [0, 1, 2].filter((block) => linkIn(header, block) === SYSTEM).length;
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

/** What follows a block, by the table in its partition's header. */
const linkIn = (header: Uint8Array, block: number): number =>
  numberIn(header, u16(CHAIN_TABLE + block * 2));

/** The volumes of a partition's table that are in use. */
function volumesIn(header: Uint8Array): { at: number; type: number; first: number }[] {
  return Array.from({ length: VOLUMES }, (_, i) => VOLUME_TABLE + i * VOLUME)
    .map((at) => ({
      at,
      type: numberIn(header, VOLUME_FIELDS.fileType, at),
      first: numberIn(header, VOLUME_FIELDS.firstBlock, at),
    }))
    .filter(({ type }) => type !== 0);
}

function countVolumes(header: Uint8Array, size: number): { right: number; used: number } {
  const used = volumesIn(header);
  const right = used.filter(
    ({ at, type, first }) =>
      CAPACITY[type] !== undefined &&
      isName(bytesIn(header, VOLUME_FIELDS.name, at)) &&
      first >= HEADER_BLOCKS &&
      first < size,
  );
  return { right: right.length, used: used.length };
}

export async function openSampler(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const entries: VolumeEntry[] = [];
  let freeBlocks = 0;
  let start = 0;
  for (let number = 0; number < MAX_PARTITIONS && (start + 1) * BLOCK <= source.size; number++) {
    const header = await source.read(start * BLOCK, HEADER_BLOCKS * BLOCK);
    const size = header.length >= 2 ? numberIn(header, PARTITION_HEADER.blocks) : 0;
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
    this.blocks = Math.min(size, Math.floor((header.length - CHAIN_TABLE) / 2));
    this.owners = new BlockOwners(this.blocks);
  }

  /** Lists all volumes; gives the number of free blocks. */
  async read(): Promise<number> {
    const system = this.owners.owner(said('volume.theSystem'));
    for (let block = 0; block < HEADER_BLOCKS; block++) this.owners.claim(block, system);
    for (const { at, type, first } of volumesIn(this.header)) {
      const name = nameOf(bytesIn(this.header, VOLUME_FIELDS.name, at));
      if (CAPACITY[type] === undefined) {
        this.problems.report(
          'directory-damaged',
          this.start * BLOCK + at,
          said('sampler.volumeOfPartitionHas', { name, letter: this.letter, type }),
        );
        continue;
      }
      await this.readVolume(name, type, first, this.start * BLOCK + at);
    }
    return this.countFree();
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
    return linkIn(this.header, block);
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
      if (next & END_OF_LIST || (endsWithSystem && next === SYSTEM))
        return { blocks, damaged: false };
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
      const kind = numberIn(entry, ENTRY_FIELDS.fileType);
      if (kind === 0) continue;
      const length = numberIn(entry, ENTRY_FIELDS.bytes);
      const fileFirst = numberIn(entry, ENTRY_FIELDS.firstBlock);
      const letter = String.fromCharCode(kind & 0x7f);
      if (!isName(bytesIn(entry, ENTRY_FIELDS.name)) || !/[a-z]/i.test(letter)) {
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
    const recordedName = nameOf(bytesIn(entry, ENTRY_FIELDS.name));
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
