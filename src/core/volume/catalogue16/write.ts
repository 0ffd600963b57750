/**
 * 16-sector catalogue volumes written: each file begins on the next track outward from the one
 * written last, its sectors from the highest down.
 */
import {
  VolumeRefusal,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { bytesIn, numberIn, putNumber } from '../record';
import {
  CONTENTS,
  CONTENTS_FIELDS,
  CONTENTS_TRACK,
  DELETED,
  ENTRY,
  ENTRY_FIELDS,
  FIRST_ENTRY,
  FIRST_PAIR,
  IMAGE_BYTES,
  LAST_SECTOR,
  LINK,
  LOCKED,
  MOVED_TRACK,
  NAME_BYTES,
  PAIRS,
  PER_SECTOR,
  SECTOR,
  SECTORS,
  TYPES,
  headOf,
  trackMapAt,
} from './records';
import { said, type Said } from '@/core/said';

/** What a file can be made as. */
const MADE_TYPES = Object.entries(TYPES)
  .map(([number, name]) => ({ number: Number(number), name }))
  .filter(({ number }) => number <= 16);

/** Direction in which tracks are given, as the disk notes it. */
const DOWNWARD = 0xff;

const placeBytes = (block: number): [track: number, sector: number] => [
  block >> 4,
  block & LAST_SECTOR,
];

export class WritableCatalogue16 implements WritableVolume {
  readonly filesystem = 'catalogue16';
  readonly hasFolders = false;
  readonly keeps = ['type', 'locked'] as const;
  private readonly tracks: number;

  /** The image is in sector order. */
  constructor(readonly image: Uint8Array) {
    this.tracks = numberIn(image, CONTENTS_FIELDS.tracks, CONTENTS);
    if (
      image.length < IMAGE_BYTES ||
      numberIn(image, CONTENTS_FIELDS.trackSectors, CONTENTS) !== SECTORS ||
      this.tracks < 18 ||
      this.tracks * SECTORS * SECTOR > image.length
    )
      throw new VolumeRefusal('damaged', said('volume.thisIsNoWhole'));
  }

  refuseName(name: string): Said | null {
    if (!/^[A-Z]/.test(name)) return said('catalogue16.aNameBeginsWith');
    if (name.length > NAME_BYTES) return said('catalogue16.isTooLongThirty', { name });
    if (name.endsWith(' ')) return said('catalogue16.aNameCantEnd');
    const wrong = [...name].find((char) => char === ',' || char < ' ' || char > '_');
    return wrong ? said('catalogue16.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const plain = wished
      .normalize('NFD')
      .replace(/\p{M}+/gu, '')
      .toUpperCase();
    const name = [...plain]
      .map((char) => (char === ',' || char < ' ' || char > '_' ? '.' : char))
      .join('')
      .replace(/^[^A-Z]+/, '')
      .slice(0, NAME_BYTES)
      .trimEnd();
    return name || 'FILE';
  }

  cost(bytes: number, type = 'T'): number {
    const data = Math.max(1, Math.ceil((bytes + headOf(this.typeOf(type))) / SECTOR));
    return data + Math.ceil(data / PAIRS);
  }

  room(): Room {
    let free = 0;
    for (let track = 0; track < this.tracks; track++) free += this.freeOn(track);
    return {
      unit: 'sector',
      unitBytes: SECTOR,
      total: (this.tracks - 1) * SECTORS,
      free,
      entries: [...this.slots()].filter((at) => this.isOpen(at)).length,
    };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const there = this.find(path);
    const refused = there === null ? this.refuseName(path) : null;
    if (refused) throw new VolumeRefusal('name', refused);
    if (there !== null && this.flagsAt(there) & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    const { type, needed } = this.checkedPlan(attributes, there, bytes, path);
    if (there !== null) for (const block of this.sectorsOf(there)) this.setFree(block, true);
    const content = this.withHead(bytes, type, attributes.address ?? 0);
    const list = this.store(content, needed);
    const at = there ?? [...this.slots()].find((each) => this.isOpen(each))!;
    if (there === null) this.putName(at, path);
    this.image.set(placeBytes(list), at + ENTRY_FIELDS.firstList.at);
    putNumber(this.image, ENTRY_FIELDS.fileType, type | (attributes.locked ? LOCKED : 0), at);
    putNumber(this.image, ENTRY_FIELDS.sectors, needed, at);
  }

  private checkedPlan(
    attributes: FileAttributes,
    there: number | null,
    bytes: Uint8Array,
    path: string,
  ) {
    const name = attributes.type ?? (there === null ? 'T' : this.typeAt(there));
    const type = this.typeOf(name);
    if (type === 0 && bytes.includes(0))
      throw new VolumeRefusal('kind', said('catalogue16.holdsAZeroAt', { path }));
    if (headOf(type) > 0 && bytes.length > 0xffff)
      throw new VolumeRefusal('too-large', said('catalogue16.aProgramOrBinary'));
    if (headOf(type) > 0 && bytes.length === 0)
      throw new VolumeRefusal('too-large', said('catalogue16.aProgramOrBinaryFile'));
    const needed = this.cost(bytes.length, name);
    const freed = there === null ? 0 : this.sectorsOf(there).length;
    const { free, entries } = this.room();
    if (needed > free + freed)
      throw new VolumeRefusal(
        'full',
        said('catalogue16.theDiskHasSectors', { free: free + freed, path, needed }),
      );
    if (there === null && entries === 0)
      throw new VolumeRefusal('directory-full', said('catalogue16.theCatalogueIsFull'));
    return { type, needed };
  }

  remove(path: string): void {
    const at = this.mustFind(path);
    if (this.flagsAt(at) & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    for (const block of this.sectorsOf(at)) this.setFree(block, true);
    // The first list's track moves into the last place of the name.
    this.image[at + MOVED_TRACK] = this.image[at]!;
    this.image[at] = DELETED;
  }

  rename(path: string, name: string): void {
    const at = this.mustFind(path);
    refuseNewName(this, name, this.find(name), at);
    this.putName(at, name);
  }

  /** Letters with their high bits set, padded with blanks. */
  private putName(at: number, name: string): void {
    const letters = Array.from(name.padEnd(NAME_BYTES), (char) => char.charCodeAt(0) | 0x80);
    this.image.set(letters, at + ENTRY_FIELDS.name.at);
  }

  private flagsAt(at: number): number {
    return numberIn(this.image, ENTRY_FIELDS.fileType, at);
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('volume.theseDisksHaveNo'));
  }

  setAttributes(path: string, { type, locked }: FileAttributes): void {
    const at = this.mustFind(path);
    if (type !== undefined && headOf(this.typeOf(type)) !== headOf(this.flagsAt(at) & ~LOCKED))
      throw new VolumeRefusal(
        'kind',
        said('catalogue16.wouldNeedAnotherBeginning', { path, type }),
      );
    const own = type === undefined ? this.flagsAt(at) & ~LOCKED : this.typeOf(type);
    const isLocked = locked ?? (this.flagsAt(at) & LOCKED) !== 0;
    putNumber(this.image, ENTRY_FIELDS.fileType, own | (isLocked ? LOCKED : 0), at);
  }

  private typeOf(type: string): number {
    const made = MADE_TYPES.find(({ name }) => name === type.toUpperCase());
    if (!made) {
      const types = MADE_TYPES.map(({ name }) => name).join(', ');
      throw new VolumeRefusal('kind', said('volume.filesHereAreNot', { types, type }));
    }
    return made.number;
  }

  private typeAt(at: number): string {
    const own = this.flagsAt(at) & ~LOCKED;
    return MADE_TYPES.find(({ number }) => number === own)?.name ?? 'B';
  }

  private withHead(bytes: Uint8Array, type: number, address: number): Uint8Array {
    const head = headOf(type);
    const out = new Uint8Array(head + bytes.length);
    out.set(bytes, head);
    if (head === 4) out.set([address & 0xff, (address >> 8) & 0xff], 0);
    if (head > 0) out.set([bytes.length & 0xff, bytes.length >> 8], head - 2);
    return out;
  }

  private bits(track: number): number {
    const at = CONTENTS + trackMapAt(track);
    return (this.image[at]! << 8) | this.image[at + 1]!;
  }

  private freeOn(track: number): number {
    let count = 0;
    for (let bits = this.bits(track); bits; bits &= bits - 1) count++;
    return count;
  }

  private setFree(block: number, free: boolean): void {
    const at = CONTENTS + trackMapAt(block >> 4) + ((block & 15) < 8 ? 1 : 0);
    const mask = 1 << (block & 7);
    this.image[at] = free ? this.image[at]! | mask : this.image[at]! & ~mask;
  }

  /**
   * The next track, in the direction that the disk notes, that has a free sector; at an end it
   * turns round at the contents.
   */
  private nextTrack(): number {
    const direction = numberIn(this.image, CONTENTS_FIELDS.direction, CONTENTS);
    let track = numberIn(this.image, CONTENTS_FIELDS.lastTrackGiven, CONTENTS);
    let step = direction === DOWNWARD ? -1 : 1;
    for (let looked = 0; looked <= 2 * this.tracks; looked++) {
      track += step;
      if (track >= this.tracks) [track, step] = [CONTENTS_TRACK - 1, -1];
      else if (track < 0) [track, step] = [CONTENTS_TRACK + 1, 1];
      if (track !== CONTENTS_TRACK && track < this.tracks && this.freeOn(track) > 0) break;
    }
    this.image.set(
      [track, step === 1 ? 1 : DOWNWARD],
      CONTENTS + CONTENTS_FIELDS.lastTrackGiven.at,
    );
    return track;
  }

  private take(count: number): number[] {
    const blocks: number[] = [];
    for (let track = this.nextTrack(); blocks.length < count; track = this.nextTrack()) {
      for (let sector = SECTORS - 1; sector >= 0 && blocks.length < count; sector--) {
        if (!((this.bits(track) >> sector) & 1)) continue;
        this.setFree(track * SECTORS + sector, false);
        blocks.push(track * SECTORS + sector);
      }
      if (blocks.length >= count) break;
    }
    return blocks;
  }

  /** A list sector, then the sectors that it lists, then the next list; gives the first list. */
  private store(content: Uint8Array, needed: number): number {
    const blocks = this.take(needed);
    const lists: number[] = [];
    const data: number[] = [];
    for (const [i, block] of blocks.entries()) (i % (PAIRS + 1) === 0 ? lists : data).push(block);
    for (const [i, list] of lists.entries()) {
      const at = list * SECTOR;
      this.image.fill(0, at, at + SECTOR);
      const next = lists[i + 1];
      if (next !== undefined) this.image.set(placeBytes(next), at + LINK.nextSector.at);
      const first = i * PAIRS;
      this.image.set([first & 0xff, first >> 8], at + 5);
      for (const [pair, block] of data.slice(first, first + PAIRS).entries())
        this.image.set(placeBytes(block), at + FIRST_PAIR + pair * 2);
    }
    for (const [i, block] of data.entries()) {
      this.image.fill(0, block * SECTOR, (block + 1) * SECTOR);
      this.image.set(content.subarray(i * SECTOR, (i + 1) * SECTOR), block * SECTOR);
    }
    return lists[0]!;
  }

  /** The sector that a pair of track and sector leads to, counted from the start. */
  private blockAt(at: number): number {
    return this.image[at]! * SECTORS + this.image[at + 1]!;
  }

  private sectorsOf(entry: number): number[] {
    const blocks: number[] = [];
    for (let list = this.blockAt(entry + ENTRY_FIELDS.firstList.at); list !== 0;) {
      if (list >= this.tracks * SECTORS || blocks.length > this.tracks * SECTORS)
        throw new VolumeRefusal('damaged', said('catalogue16.aFileOfThis'));
      blocks.push(list);
      const at = list * SECTOR;
      for (let pair = 0; pair < PAIRS; pair++) {
        const block = this.blockAt(at + FIRST_PAIR + pair * 2);
        if (block !== 0 && block < this.tracks * SECTORS) blocks.push(block);
      }
      list = this.blockAt(at + LINK.nextSector.at);
    }
    return blocks;
  }

  private *slots(): Generator<number> {
    const visited = new Set<number>();
    for (
      let block = this.blockAt(CONTENTS + CONTENTS_FIELDS.catalogueSector.at);
      block !== 0 && block < this.tracks * SECTORS && !visited.has(block);
    ) {
      visited.add(block);
      for (let i = 0; i < PER_SECTOR; i++) yield block * SECTOR + FIRST_ENTRY + i * ENTRY;
      block = this.blockAt(block * SECTOR + LINK.nextSector.at);
    }
  }

  private isOpen(at: number): boolean {
    return this.image[at] === 0 || this.image[at] === DELETED;
  }

  private find(name: string): number | null {
    for (const at of this.slots()) {
      if (this.isOpen(at)) continue;
      const letters = bytesIn(this.image, ENTRY_FIELDS.name, at).map((byte) => byte & 0x7f);
      const own = String.fromCharCode(...letters).trimEnd();
      if (own === name) return at;
    }
    return null;
  }

  private mustFind(path: string): number {
    const at = this.find(path);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }
}
