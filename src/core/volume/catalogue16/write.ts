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
import { said, type Said } from '@/core/said';

const SECTOR = 256;
const SECTORS = 16;
const CONTENTS_TRACK = 17;
const ENTRY = 35;
const FIRST_ENTRY = 0x0b;
const PER_SECTOR = 7;
const PAIRS = 122;
const DELETED = 0xff;
const LOCKED = 0x80;
const NAME_BYTES = 30;
const TYPES: Readonly<Record<string, number>> = Object.freeze({
  T: 0,
  I: 1,
  A: 2,
  B: 4,
  S: 8,
  R: 16,
});
/** Bytes before the content: an address and a length of binary files, a length of BASIC ones. */
const headOf = (type: number) => (type === 4 ? 4 : type === 1 || type === 2 ? 2 : 0);
const IMAGE_BYTES = 35 * SECTORS * SECTOR;

export class WritableCatalogue16 implements WritableVolume {
  readonly filesystem = 'catalogue16';
  readonly hasFolders = false;
  readonly keeps = ['type', 'locked'] as const;
  private readonly contents = CONTENTS_TRACK * SECTORS * SECTOR;
  private readonly tracks: number;

  /** The image is in sector order. */
  constructor(readonly image: Uint8Array) {
    this.tracks = image[this.contents + 0x34] ?? 0;
    if (
      image.length < IMAGE_BYTES ||
      image[this.contents + 0x35] !== SECTORS ||
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
    if (there !== null && this.image[there + 2]! & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    const { type, needed } = this.checkedPlan(attributes, there, bytes, path);
    if (there !== null) for (const block of this.sectorsOf(there)) this.setFree(block, true);
    const content = this.withHead(bytes, type, attributes.address ?? 0);
    const list = this.store(content, needed);
    const at = there ?? [...this.slots()].find((each) => this.isOpen(each))!;
    if (there === null) this.image.fill(0xa0, at + 3, at + 3 + NAME_BYTES);
    if (there === null)
      for (let i = 0; i < path.length; i++) this.image[at + 3 + i] = path.charCodeAt(i) | 0x80;
    this.image.set([list >> 4, list & 15, type | (attributes.locked ? LOCKED : 0)], at);
    this.image.set([needed & 0xff, needed >> 8], at + 0x21);
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
    if (this.image[at + 2]! & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    for (const block of this.sectorsOf(at)) this.setFree(block, true);
    // The first list's track moves into the last place of the name.
    this.image[at + 0x20] = this.image[at]!;
    this.image[at] = DELETED;
  }

  rename(path: string, name: string): void {
    const at = this.mustFind(path);
    refuseNewName(this, name, this.find(name), at);
    this.image.fill(0xa0, at + 3, at + 3 + NAME_BYTES);
    for (let i = 0; i < name.length; i++) this.image[at + 3 + i] = name.charCodeAt(i) | 0x80;
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('volume.theseDisksHaveNo'));
  }

  setAttributes(path: string, { type, locked }: FileAttributes): void {
    const at = this.mustFind(path);
    if (type !== undefined && headOf(this.typeOf(type)) !== headOf(this.image[at + 2]! & 0x7f))
      throw new VolumeRefusal(
        'kind',
        said('catalogue16.wouldNeedAnotherBeginning', { path, type }),
      );
    if (type !== undefined) this.image[at + 2] = (this.image[at + 2]! & LOCKED) | this.typeOf(type);
    if (locked !== undefined)
      this.image[at + 2] = (this.image[at + 2]! & 0x7f) | (locked ? LOCKED : 0);
  }

  private typeOf(type: string): number {
    const number = TYPES[type.toUpperCase()];
    if (number === undefined)
      throw new VolumeRefusal(
        'kind',
        said('volume.filesHereAreNot', { types: Object.keys(TYPES).join(', '), type }),
      );
    return number;
  }

  private typeAt(at: number): string {
    return (
      Object.entries(TYPES).find(([, number]) => number === (this.image[at + 2]! & 0x7f))?.[0] ??
      'B'
    );
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
    const at = this.contents + 0x38 + track * 4;
    return (this.image[at]! << 8) | this.image[at + 1]!;
  }

  private freeOn(track: number): number {
    let count = 0;
    for (let bits = this.bits(track); bits; bits &= bits - 1) count++;
    return count;
  }

  private setFree(block: number, free: boolean): void {
    const at = this.contents + 0x38 + (block >> 4) * 4 + ((block & 15) < 8 ? 1 : 0);
    const mask = 1 << (block & 7);
    this.image[at] = free ? this.image[at]! | mask : this.image[at]! & ~mask;
  }

  /**
   * The next track, in the direction that the disk notes, that has a free sector; at an end it
   * turns round at the contents.
   */
  private nextTrack(): number {
    let [track, step] = [
      this.image[this.contents + 0x30]!,
      this.image[this.contents + 0x31] === 0xff ? -1 : 1,
    ];
    for (let looked = 0; looked <= 2 * this.tracks; looked++) {
      track += step;
      if (track >= this.tracks) [track, step] = [CONTENTS_TRACK - 1, -1];
      else if (track < 0) [track, step] = [CONTENTS_TRACK + 1, 1];
      if (track !== CONTENTS_TRACK && track < this.tracks && this.freeOn(track) > 0) break;
    }
    this.image.set([track, step === 1 ? 1 : 0xff], this.contents + 0x30);
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
      if (next !== undefined) this.image.set([next >> 4, next & 15], at + 1);
      const first = i * PAIRS;
      this.image.set([first & 0xff, first >> 8], at + 5);
      for (const [pair, block] of data.slice(first, first + PAIRS).entries())
        this.image.set([block >> 4, block & 15], at + 0x0c + pair * 2);
    }
    for (const [i, block] of data.entries()) {
      this.image.fill(0, block * SECTOR, (block + 1) * SECTOR);
      this.image.set(content.subarray(i * SECTOR, (i + 1) * SECTOR), block * SECTOR);
    }
    return lists[0]!;
  }

  private sectorsOf(entry: number): number[] {
    const blocks: number[] = [];
    for (let list = this.image[entry]! * SECTORS + this.image[entry + 1]!; list !== 0;) {
      if (list >= this.tracks * SECTORS || blocks.length > this.tracks * SECTORS)
        throw new VolumeRefusal('damaged', said('catalogue16.aFileOfThis'));
      blocks.push(list);
      const at = list * SECTOR;
      for (let pair = 0; pair < PAIRS; pair++) {
        const block =
          this.image[at + 0x0c + pair * 2]! * SECTORS + this.image[at + 0x0d + pair * 2]!;
        if (block !== 0 && block < this.tracks * SECTORS) blocks.push(block);
      }
      list = this.image[at + 1]! * SECTORS + this.image[at + 2]!;
    }
    return blocks;
  }

  private *slots(): Generator<number> {
    const visited = new Set<number>();
    for (
      let block = this.image[this.contents + 1]! * SECTORS + this.image[this.contents + 2]!;
      block !== 0 && block < this.tracks * SECTORS && !visited.has(block);
    ) {
      visited.add(block);
      for (let i = 0; i < PER_SECTOR; i++) yield block * SECTOR + FIRST_ENTRY + i * ENTRY;
      block = this.image[block * SECTOR + 1]! * SECTORS + this.image[block * SECTOR + 2]!;
    }
  }

  private isOpen(at: number): boolean {
    return this.image[at] === 0 || this.image[at] === DELETED;
  }

  private find(name: string): number | null {
    for (const at of this.slots()) {
      if (this.isOpen(at)) continue;
      const own = String.fromCharCode(
        ...Array.from(this.image.subarray(at + 3, at + 3 + NAME_BYTES), (byte) => byte & 0x7f),
      ).trimEnd();
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

/**
 * A disk with nothing on it; the three first tracks are kept for a system, as on disks that start
 * one.
 */
export function formatCatalogue16({
  volume = 254,
  keepsSystemTracks = true,
}: { volume?: number; keepsSystemTracks?: boolean } = {}): Uint8Array {
  const image = new Uint8Array(IMAGE_BYTES);
  const contents = CONTENTS_TRACK * SECTORS * SECTOR;
  image.set([4, CONTENTS_TRACK, 15, 3, 0, 0, volume], contents);
  image[contents + 0x27] = PAIRS;
  image.set([CONTENTS_TRACK, 1, 0, 0, 35, SECTORS, 0, 1], contents + 0x30);
  for (let track = keepsSystemTracks ? 3 : 0; track < 35; track++)
    if (track !== CONTENTS_TRACK) image.set([0xff, 0xff], contents + 0x38 + track * 4);
  // Track 0 sector 0 ends every chain: it can't be given to a file.
  if (!keepsSystemTracks) image[contents + 0x38 + 1] = 0xfe;
  for (let sector = 15; sector > 1; sector--)
    image.set([CONTENTS_TRACK, sector - 1], contents + sector * SECTOR + 1);
  return image;
}
