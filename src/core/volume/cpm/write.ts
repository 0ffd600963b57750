/**
 * CP/M 2.2 directories written: the lowest free block first, the first free directory entry first,
 * whole records of 128 bytes.
 */
import {
  VolumeRefusal,
  plainCapitals,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { placeOfByte } from './byte-place';
import { deriveCpm } from './records';
import type { CpmParameters } from './parameters';
import { said, type Said } from '@/core/said';

const ENTRY = 32;
const DELETED = 0xe5;
const RECORD = 128;
const FILLER = 0x1a;
const READ_ONLY = 0x80;
const LAST_USER = 15;
const ALLOWED = /^[A-Z0-9!#$%&'()\-@^_`{}~+/]$/;

export class WritableCpm implements WritableVolume {
  readonly filesystem = 'cpm';
  readonly hasFolders = false;
  readonly keeps = ['locked'] as const;
  private readonly blocks: number;
  private readonly numberBytes: 1 | 2;
  private readonly extentMask: number;
  private readonly perEntry: number;

  constructor(
    readonly image: Uint8Array,
    private readonly parameters: CpmParameters,
  ) {
    const { blocks, numberBytes, extentMask } = deriveCpm(parameters);
    if (image.length < parameters.tracks * parameters.sectorsPerTrack * parameters.sectorBytes)
      throw new VolumeRefusal('damaged', said('cpm.theImageIsSmaller'));
    [this.blocks, this.numberBytes, this.extentMask] = [blocks, numberBytes, extentMask];
    this.perEntry = (extentMask + 1) * 128;
  }

  refuseName(name: string): Said | null {
    const [, user, stem, extension] = /^(?:(\d{1,2})\/)?([^.]*)(?:\.([^.]*))?$/.exec(name) ?? [];
    if (!stem || (name.includes('.') && !extension)) return said('cpm.aNameIsUp');
    if (user !== undefined && Number(user) > LAST_USER)
      return said('cpm.userAreasAre0', { lastUser: LAST_USER });
    if (stem.length > 8 || (extension?.length ?? 0) > 3)
      return said('volume.isTooLongEight', { name });
    const wrong = [...(stem + (extension ?? ''))].find(
      (char) => !ALLOWED.test(char) || char === '/',
    );
    return wrong ? said('volume.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const own = wished.split('/').pop()!;
    const dot = own.lastIndexOf('.');
    const plain = (text: string, longest: number) =>
      plainCapitals(text.replaceAll(/[. /]/g, ''), ALLOWED, '-').slice(0, longest);
    const end = dot > 0 ? plain(own.slice(dot + 1), 3) : '';
    return `${plain(dot > 0 ? own.slice(0, dot) : own, 8) || 'FILE'}${end ? `.${end}` : ''}`;
  }

  cost(bytes: number): number {
    return Math.ceil((Math.ceil(bytes / RECORD) * RECORD) / this.parameters.blockSize);
  }

  room(): Room {
    const { blockSize, directoryEntries } = this.parameters;
    const directoryBlocks = Math.ceil((directoryEntries * ENTRY) / blockSize);
    const entries = this.slots().filter((at) => this.byte(at) === DELETED).length;
    return {
      unit: 'block',
      unitBytes: blockSize,
      total: this.blocks - directoryBlocks,
      free: this.freeBlocks().length,
      entries,
    };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const refused = this.refuseName(path);
    if (refused) throw new VolumeRefusal('name', refused);
    const there = this.entriesOf(path);
    if (there.some((at) => this.byte(at + 9) & READ_ONLY))
      throw new VolumeRefusal('locked', said('volume.isReadOnlyTake', { path }));
    const { neededEntries, records } = this.checkedNeeds(bytes, there, path);
    for (const at of there) this.setByte(at, DELETED);
    const taken = this.storeContent(bytes);
    this.addEntries(path, neededEntries, records, attributes, taken);
  }

  private checkedNeeds(bytes: Uint8Array, there: number[], path: string) {
    const records = Math.ceil(bytes.length / RECORD);
    const neededEntries = Math.max(1, Math.ceil(records / this.perEntry));
    const { free, entries } = this.room();
    const freed = there.reduce((sum, at) => sum + this.pointersOf(at).length, 0);
    if (this.cost(bytes.length) > free + freed)
      throw new VolumeRefusal(
        'full',
        said('cpm.theDiskHasBlocks', { free: free + freed, path, bytes: this.cost(bytes.length) }),
      );
    if (neededEntries > entries + there.length)
      throw new VolumeRefusal(
        'directory-full',
        said('cpm.theDirectoryIsFull', { path, neededEntries, entries: entries + there.length }),
      );
    return { neededEntries, records };
  }

  private storeContent(bytes: Uint8Array) {
    const taken = this.freeBlocks().slice(0, this.cost(bytes.length));
    const content = new Uint8Array(taken.length * this.parameters.blockSize).fill(FILLER);
    content.set(bytes);
    for (const [i, block] of taken.entries())
      this.writeStretch(
        block * this.parameters.blockSize,
        content.subarray(i * this.parameters.blockSize, (i + 1) * this.parameters.blockSize),
      );
    return taken;
  }

  private addEntries(
    path: string,
    neededEntries: number,
    records: number,
    attributes: FileAttributes,
    taken: number[],
  ) {
    const { user, name } = parseName(path);
    const perEntryBlocks = (this.perEntry * RECORD) / this.parameters.blockSize;
    for (let i = 0; i < neededEntries; i++) {
      const at = this.slots().find((each) => this.byte(each) === DELETED)!;
      const own = Math.min(this.perEntry, records - i * this.perEntry);
      // The number of the entry's last extent, and the records of that one.
      const lastExtent = i * (this.extentMask + 1) + Math.max(0, Math.ceil(own / 128) - 1);
      const entry = new Uint8Array(ENTRY);
      entry[0] = user;
      entry.set(name, 1);
      if (attributes.locked) entry[9]! |= READ_ONLY;
      entry[12] = lastExtent & 0x1f;
      entry[14] = lastExtent >> 5;
      entry[15] = own === 0 ? 0 : ((own - 1) % 128) + 1;
      for (const [n, block] of taken
        .slice(i * perEntryBlocks, (i + 1) * perEntryBlocks)
        .entries()) {
        if (this.numberBytes === 1) entry[16 + n] = block;
        else entry.set([block & 0xff, block >> 8], 16 + n * 2);
      }
      this.writeStretch(at, entry);
    }
  }

  remove(path: string): void {
    const entries = this.mustFind(path);
    if (entries.some((at) => this.byte(at + 9) & READ_ONLY))
      throw new VolumeRefusal('locked', said('volume.isReadOnlyTake', { path }));
    for (const at of entries) this.setByte(at, DELETED);
  }

  rename(path: string, name: string): void {
    const entries = this.mustFind(path);
    const refused = this.refuseName(name);
    if (refused) throw new VolumeRefusal('name', refused);
    // The user area stays where none is named.
    const wanted =
      /^\d+\//.test(name) || parseName(path).user === 0 ? name : `${parseName(path).user}/${name}`;
    const others = this.entriesOf(wanted);
    if (others.length > 0 && others[0] !== entries[0])
      throw new VolumeRefusal('exists', said('cpm.thereIsAAlready', { wanted }));
    const parsed = parseName(wanted);
    for (const at of entries) {
      const marks = [0, 1, 2].map((i) => this.byte(at + 9 + i) & READ_ONLY);
      this.setByte(at, parsed.user);
      this.writeStretch(
        at + 1,
        parsed.name.map((byte, i) => byte | (i >= 8 ? marks[i - 8]! : 0)),
      );
    }
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('cpm.theseDisksHaveNo'));
  }

  setAttributes(path: string, { locked }: FileAttributes): void {
    for (const at of this.mustFind(path))
      if (locked !== undefined)
        this.setByte(at + 9, (this.byte(at + 9) & 0x7f) | (locked ? READ_ONLY : 0));
  }

  /** Bytes behind the reserved tracks, wherever the order of sectors puts them. */
  private byte(at: number): number {
    return this.image[placeOfByte(this.parameters, at)]!;
  }

  private setByte(at: number, value: number): void {
    this.image[placeOfByte(this.parameters, at)] = value;
  }

  private writeStretch(at: number, bytes: Uint8Array): void {
    const { sectorBytes } = this.parameters;
    for (let done = 0; done < bytes.length;) {
      const step = Math.min(bytes.length - done, sectorBytes - ((at + done) % sectorBytes));
      this.image.set(bytes.subarray(done, done + step), placeOfByte(this.parameters, at + done));
      done += step;
    }
  }

  private slots(): number[] {
    return Array.from({ length: this.parameters.directoryEntries }, (_, i) => i * ENTRY);
  }

  private pointersOf(at: number): number[] {
    const pointers =
      this.numberBytes === 1
        ? Array.from({ length: 16 }, (_, i) => this.byte(at + 16 + i))
        : Array.from(
            { length: 8 },
            (_, i) => this.byte(at + 16 + i * 2) | (this.byte(at + 17 + i * 2) << 8),
          );
    return pointers.filter((block) => block !== 0);
  }

  private freeBlocks(): number[] {
    const { blockSize, directoryEntries } = this.parameters;
    const used = new Set<number>(
      Array.from({ length: Math.ceil((directoryEntries * ENTRY) / blockSize) }, (_, i) => i),
    );
    for (const at of this.slots())
      if (this.byte(at) !== DELETED) for (const block of this.pointersOf(at)) used.add(block);
    return Array.from({ length: this.blocks }, (_, block) => block).filter(
      (block) => !used.has(block),
    );
  }

  private entriesOf(path: string): number[] {
    if (this.refuseName(path)) return [];
    const { user, name } = parseName(path);
    return this.slots().filter(
      (at) =>
        this.byte(at) === user && name.every((byte, i) => (this.byte(at + 1 + i) & 0x7f) === byte),
    );
  }

  private mustFind(path: string): number[] {
    const entries = this.entriesOf(path);
    if (entries.length === 0)
      throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return entries;
  }
}

function parseName(path: string): { user: number; name: Uint8Array } {
  const [, user = '0', own = path] = /^(?:(\d{1,2})\/)?(.*)$/.exec(path) ?? [];
  const [stem = '', extension = ''] = own.split('.');
  return {
    user: Number(user),
    name: new TextEncoder().encode(stem.padEnd(8) + extension.padEnd(3)),
  };
}

/** A disk with nothing on it. */
export function formatCpm(parameters: CpmParameters): Uint8Array {
  return new Uint8Array(
    parameters.tracks * parameters.sectorsPerTrack * parameters.sectorBytes,
  ).fill(DELETED);
}
