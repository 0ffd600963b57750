/** The files of a ProDOS volume: one fork or two, and what is left of those that were removed. */
import { said } from '@/core/said';
import { fileEntry, pathOf, type ProblemList } from '../extent-volume';
import { joined } from '../extents';
import { inUnits } from '../own-units';
import { numberIn } from '../record';
import type { VolumeEntry } from '../volume';
import { erasedExtents, erasedName, type ErasedEntry } from './erased';
import type { Fork, ProdosBlocks } from './forks';
import {
  ENTRY_FIELDS,
  EXTENDED,
  FORK_FIELDS,
  SEEDLING,
  TREE,
  WRITABLE,
  nameIn,
  storageOf,
  timeIn,
  withCase,
} from './records';

const hex = (value: number) => value.toString(16).toUpperCase().padStart(2, '0');

/** What is told of a file whatever it holds. */
export interface Listed extends Pick<VolumeEntry, 'path' | 'recordedName' | 'modified' | 'locked'> {
  type: string;
  address: number;
}

export class ProdosFiles {
  readonly entries: VolumeEntry[] = [];

  constructor(
    private readonly blocks: ProdosBlocks,
    private readonly problems: ProblemList,
  ) {}

  listed(entry: Uint8Array, folders: readonly string[], at: number): Listed {
    const recordedName = withCase(nameIn(entry), numberIn(entry, ENTRY_FIELDS.lowerCase));
    return {
      path: pathOf(folders, recordedName, this.problems, at),
      recordedName,
      modified: timeIn(entry, ENTRY_FIELDS.changed.at),
      locked: (numberIn(entry, ENTRY_FIELDS.access) & WRITABLE) === 0,
      type: hex(numberIn(entry, ENTRY_FIELDS.fileType)),
      address: numberIn(entry, ENTRY_FIELDS.auxiliaryType),
    };
  }

  async file(entry: Uint8Array, listed: Listed, at: number): Promise<void> {
    const storage = storageOf(entry);
    const key = numberIn(entry, ENTRY_FIELDS.keyBlock);
    const owner = this.blocks.owners.owner(listed.path);
    if (storage === EXTENDED) return this.readExtended(key, listed, owner, at);
    const bytes = numberIn(entry, ENTRY_FIELDS.bytes);
    if (storage < SEEDLING || storage > TREE) {
      const { path } = listed;
      this.problems.report(
        'directory-damaged',
        at,
        said('prodos.hasStorageTypeWhich', { path, storage }),
      );
      this.entries.push(fileEntry({ ...listed, bytes, extents: [], damaged: true }));
      return;
    }
    const fork = await this.blocks.follow({ storage, key, bytes }, listed.path, owner);
    const used = numberIn(entry, ENTRY_FIELDS.blocks);
    this.tellBlocks(fork, used, at, listed.path);
    const { damaged } = fork;
    const ownSize = inUnits(used, 'block');
    this.entries.push(
      fileEntry({ ...listed, ownSize, bytes, extents: joined(fork.extents), damaged }),
    );
  }

  private tellBlocks(fork: Fork, used: number, at: number, path: string): void {
    const blocks = fork.blocks.length;
    if (!fork.damaged && used !== blocks)
      this.problems.report(
        used > blocks ? 'chain-too-short' : 'chain-too-long',
        at,
        said('prodos.theDirectorySaysBlocks', { path, used, blocks }),
      );
  }

  /**
   * Two forks, each with a small entry of its own in the key block; the second is a file beside the
   * first.
   */
  private async readExtended(
    key: number,
    listed: Listed,
    owner: number,
    at: number,
  ): Promise<void> {
    const block = key < this.blocks.total ? await this.blocks.read(key) : null;
    if (!block) {
      const { path } = listed;
      this.problems.report('out-of-range', at, said('prodos.itsKeyBlockIs', { path, key }));
      this.entries.push(fileEntry({ ...listed, bytes: 0, extents: [], damaged: true }));
      return;
    }
    this.blocks.claim(key, owner, listed.path);
    await this.addFork(block.subarray(0, 256), listed, owner);
    const second = block.subarray(256);
    if (numberIn(second, FORK_FIELDS.bytes) > 0)
      await this.addFork(second, { ...listed, path: `${listed.path}.resources` }, owner);
  }

  private async addFork(record: Uint8Array, listed: Listed, owner: number): Promise<void> {
    const bytes = numberIn(record, FORK_FIELDS.bytes);
    const place = {
      storage: record[0]! & 15,
      key: numberIn(record, FORK_FIELDS.keyBlock),
      bytes,
    };
    const { extents, damaged } = await this.blocks.follow(place, listed.path, owner);
    this.entries.push(fileEntry({ ...listed, bytes, extents: joined(extents), damaged }));
  }

  /** `free` says of each block whether the map has it free. */
  async erased({ entry, folders, at }: ErasedEntry, free: Uint8Array): Promise<void> {
    const extents = await erasedExtents(entry, this.blocks, free);
    const recordedName = erasedName(entry);
    this.entries.push(
      fileEntry({
        path: pathOf(folders, recordedName, this.problems, at),
        recordedName,
        modified: timeIn(entry, ENTRY_FIELDS.changed.at),
        type: hex(numberIn(entry, ENTRY_FIELDS.fileType)),
        deleted: true,
        bytes: extents ? numberIn(entry, ENTRY_FIELDS.bytes) : 0,
        extents: joined(extents ?? []),
        recoverable: extents ? 'whole' : 'none',
      }),
    );
  }
}
