/**
 * Partitioned sampler volumes, read and checked: blocks of 8 KiB, up to a hundred volumes a
 * partition, chains by table.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { BlockOwners, ProblemList, extentVolume, fileEntry, pathOf } from '../extent-volume';
import { bytesOfExtents, joined } from '../extents';
import { inUnits } from '../own-units';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { bytesIn, numberIn } from '../record';
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
  VOLUME_FIELDS,
  isName,
  nameOf,
} from './records';
import { isWellFormedVolume, linkIn, sizeOf, volumesIn } from './header';
import { said, type Words } from '@/core/said';

const MAX_PARTITIONS = 26;

export async function openSampler(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const entries: VolumeEntry[] = [];
  let freeBlocks = 0;
  let start = 0;
  for (let number = 0; number < MAX_PARTITIONS && (start + 1) * BLOCK <= source.size; number++) {
    const header = await source.read(start * BLOCK, HEADER_BLOCKS * BLOCK);
    const { size, isGuessed } = await sizeOf(source, header, start);
    const letter = String.fromCharCode(65 + number);
    if (size === null) {
      tellNoPartition(header, start, letter, problems);
      break;
    }
    if (isGuessed)
      problems.report(
        'partition-damaged',
        start * BLOCK,
        said('sampler.partitionDoesNotSay', { letter, size }),
      );
    tellCut(start, size, source, problems, number);
    freeBlocks += await new Partition(
      source,
      header,
      start,
      size,
      letter,
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
    for (const volume of volumesIn(this.header)) {
      const { at, type, first } = volume;
      const name = nameOf(bytesIn(this.header, VOLUME_FIELDS.name, at));
      if (!isWellFormedVolume(this.header, volume, this.blocks)) {
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
    const typeCode = numberIn(entry, ENTRY_FIELDS.fileType);
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
        typeCode,
        ownSize: inUnits(Math.ceil(length / BLOCK), 'block'),
        bytes: Math.min(length, there),
        extents: joined(extents),
        damaged: chain.damaged || short,
      }),
    );
  }
}

/** Where something stands behind the last partition that is no header. */
function tellNoPartition(
  header: Uint8Array,
  start: number,
  number: string,
  problems: ProblemList,
): void {
  const size = header.length >= 2 ? numberIn(header, PARTITION_HEADER.blocks) : 0;
  const isEmpty = header.subarray(0, CHAIN_TABLE).every((byte) => byte === 0);
  if (start > 0 && (isEmpty || size >= END_OF_LIST)) return;
  problems.report(
    'partition-damaged',
    start * BLOCK,
    said('sampler.partitionSaysItHas', { number, size }),
  );
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
