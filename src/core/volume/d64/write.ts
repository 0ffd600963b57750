/**
 * Volumes of the `.d64` family written as their own system lays them out: the first sector on the
 * track nearest to the
 * directory, each next one its interleave further on the same track, the first free place in the
 * directory.
 */
import {
  VolumeRefusal,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import {
  SIZES,
  blockOf,
  blocksIn,
  sectorsOfTrack,
  type D64Geometry,
  type D64Kind,
} from './geometry';
import { bytesOfName } from './names';
import { said, type Said } from '@/core/said';

export const SECTOR = 256;

const DATA = 254;

const ENTRY = 32;

export const NAME_BYTES = 16;

const CLOSED = 0x80;

const LOCKED = 0x40;

/** What a file can be made as; record files and partitions are kept, and not made. */
const TYPES = ['DEL', 'SEQ', 'PRG', 'USR'] as const;

const REL = 4;

const INTERLEAVE: Readonly<Record<D64Kind, { file: number; directory: number }>> = Object.freeze({
  d64: { file: 10, directory: 3 },
  d71: { file: 6, directory: 3 },
  d81: { file: 1, directory: 1 },
});

interface Place {
  track: number;
  sector: number;
}

export class WritableD64 implements WritableVolume {
  readonly filesystem: D64Kind;
  readonly hasFolders = false;
  readonly keeps = ['type', 'locked'] as const;
  private readonly geometry: D64Geometry;

  constructor(readonly image: Uint8Array) {
    const geometry = SIZES.find(([bytes]) => bytes === image.length)?.[1];
    if (!geometry)
      throw new VolumeRefusal('damaged', said('d64.anImageOfBytes', { image: image.length }));
    if (geometry.kind === 'd64' && geometry.tracks > 35)
      throw new VolumeRefusal('kind', said('d64.disksOf40Tracks'));
    this.geometry = geometry;
    this.filesystem = geometry.kind;
  }

  refuseName(name: string): Said | null {
    if (name === '') return said('d64.aNameHasAt');
    const bytes = bytesOfName(name, NAME_BYTES);
    if (!bytes)
      return [...name].length > NAME_BYTES
        ? said('d64.isTooLongSixteen', { name })
        : said('d64.aCharacterOfIs', { name });
    const wrong = [...name].find((char) => '",:*?=@$\u00a0'.includes(char));
    return wrong ? said('d64.meansSomethingElseTo', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const plain = wished
      .normalize('NFD')
      .replace(/\p{M}+/gu, '')
      .toUpperCase();
    const name = [...plain]
      .map((char) => (this.refuseName(char) === null ? char : '-'))
      .join('')
      .trim()
      .slice(0, NAME_BYTES);
    return name || 'FILE';
  }

  cost(bytes: number): number {
    return Math.max(1, Math.ceil(bytes / DATA));
  }

  room(): Room {
    let free = 0;
    for (let track = 1; track <= this.geometry.tracks; track++)
      if (!this.geometry.reserved.includes(track)) free += this.freeOn(track);
    const total =
      blocksIn(this.geometry) -
      this.geometry.reserved.reduce((sum, track) => sum + sectorsOfTrack(this.geometry, track), 0);
    const entries =
      [...this.slots()].filter((at) => this.image[at + 2] === 0).length +
      this.freeOn(this.geometry.directoryTrack) * 8;
    return { unit: 'block', unitBytes: SECTOR, total, free, entries };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const there = this.find(path);
    const refused = there === null ? this.refuseName(path) : null;
    if (refused) throw new VolumeRefusal('name', refused);
    if (there !== null) this.refuseSpecial(there, path);
    const type = this.typeOf(attributes.type ?? (there === null ? 'PRG' : this.typeAt(there)));
    const needed = this.cost(bytes.length);
    const freed = there === null ? 0 : this.chain(this.firstOf(there)).length;
    if (needed > this.room().free + freed)
      throw new VolumeRefusal(
        'full',
        said('d64.theDiskHasBlocks', { free: this.room().free + freed, path, needed }),
      );
    const at = there ?? this.newEntry();
    if (there !== null) this.release(this.firstOf(there));
    const places = this.take(needed);
    this.writeChain(places, bytes);
    if (there === null) {
      this.image.fill(0, at + 2, at + ENTRY);
      this.image.set(bytesOfName(path, NAME_BYTES)!, at + 5);
    }
    const [first] = places as [Place];
    this.image.set(
      [CLOSED | type | (attributes.locked ? LOCKED : 0), first.track, first.sector],
      at + 2,
    );
    this.image.set([needed & 0xff, needed >> 8], at + 0x1e);
  }

  private writeChain(places: Place[], bytes: Uint8Array) {
    for (const [i, { track, sector }] of places.entries()) {
      const offset = this.offset(track, sector);
      const piece = bytes.subarray(i * DATA, (i + 1) * DATA);
      const next = places[i + 1];
      this.image.fill(0, offset, offset + SECTOR);
      this.image.set(next ? [next.track, next.sector] : [0, piece.length + 1], offset);
      this.image.set(piece, offset + 2);
    }
  }

  remove(path: string): void {
    const at = this.mustFind(path);
    if (this.image[at + 2]! & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    if ((this.image[at + 2]! & 0x0f) > REL)
      throw new VolumeRefusal('kind', said('d64.isAPartitionIt', { path }));
    if ((this.image[at + 2]! & 0x0f) !== 0) this.release(this.firstOf(at));
    if ((this.image[at + 2]! & 0x0f) === REL && this.image[at + 0x15] !== 0)
      this.releaseSides({ track: this.image[at + 0x15]!, sector: this.image[at + 0x16]! });
    this.image[at + 2] = 0;
  }

  rename(path: string, name: string): void {
    const at = this.mustFind(path);
    refuseNewName(this, name, this.find(name), at);
    this.image.set(bytesOfName(name, NAME_BYTES)!, at + 5);
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('volume.theseDisksHaveNo'));
  }

  setAttributes(path: string, { type, locked }: FileAttributes): void {
    const at = this.mustFind(path);
    if (type !== undefined) {
      this.refuseSpecial(at, path);
      this.image[at + 2] = (this.image[at + 2]! & 0xf0) | this.typeOf(type);
    }
    if (locked !== undefined)
      this.image[at + 2] = (this.image[at + 2]! & ~LOCKED) | (locked ? LOCKED : 0);
  }

  private typeOf(type: string): number {
    const number = (TYPES as readonly string[]).indexOf(type.toUpperCase());
    if (number < 0)
      throw new VolumeRefusal(
        'kind',
        said('volume.filesHereAreNot', { types: TYPES.slice(1).join(', '), type }),
      );
    return number;
  }

  private typeAt(at: number): string {
    return TYPES[this.image[at + 2]! & 0x0f] ?? 'PRG';
  }

  private refuseSpecial(at: number, path: string): void {
    if (this.image[at + 2]! & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    if ((this.image[at + 2]! & 0x0f) >= REL)
      throw new VolumeRefusal('kind', said('d64.isARecordFile', { path }));
  }

  private offset(track: number, sector: number): number {
    const block = blockOf(this.geometry, track, sector);
    if (block < 0) throw new VolumeRefusal('damaged', said('d64.aLinkLeadsTo', { track, sector }));
    return block * SECTOR;
  }

  /** Where a track's count of free sectors stands, and its bits. */
  private mapOf(track: number): { count: number; bits: number } {
    const { kind, directoryTrack } = this.geometry;
    if (kind === 'd81') {
      const at = this.offset(directoryTrack, track > 40 ? 2 : 1) + 0x10 + ((track - 1) % 40) * 6;
      return { count: at, bits: at + 1 };
    }
    const header = this.offset(directoryTrack, 0);
    if (kind === 'd71' && track > 35)
      return { count: header + 0xdd + track - 36, bits: this.offset(53, 0) + (track - 36) * 3 };
    return { count: header + track * 4, bits: header + track * 4 + 1 };
  }

  private freeOn(track: number): number {
    return this.image[this.mapOf(track).count]!;
  }

  private isFree(track: number, sector: number): boolean {
    return ((this.image[this.mapOf(track).bits + (sector >> 3)]! >> (sector & 7)) & 1) === 1;
  }

  private setFree(track: number, sector: number, free: boolean): void {
    const { count, bits } = this.mapOf(track);
    const at = bits + (sector >> 3);
    const mask = 1 << (sector & 7);
    if (((this.image[at]! & mask) !== 0) === free) return;
    this.image[at] = free ? this.image[at]! | mask : this.image[at]! & ~mask;
    this.image[count] = this.image[count]! + (free ? 1 : -1);
  }

  /**
   * Tracks in the order in which a new file looks for its first sector: outward from the directory,
   * below before above; of a second side after the first.
   */
  private tracksByDistance(): number[] {
    const { kind, tracks, directoryTrack, reserved } = this.geometry;
    const side = kind === 'd71' ? 35 : tracks;
    const order: number[] = [];
    for (let distance = 1; distance < side; distance++)
      for (const track of [directoryTrack - distance, directoryTrack + distance])
        if (track >= 1 && track <= side) order.push(track);
    if (kind === 'd71')
      order.push(
        ...order
          .map((track) => track + 35)
          .sort((a, b) => Math.abs(a - 53) - Math.abs(b - 53) || a - b),
      );
    return order.filter((track) => !reserved.includes(track));
  }

  /** Sectors for a file, in the order in which its own system gives them. */
  private take(count: number): Place[] {
    const places: Place[] = [];
    const { file } = INTERLEAVE[this.geometry.kind];
    const order = this.tracksByDistance();
    let track = order.find((each) => this.freeOn(each) > 0)!;
    let sector = -1;
    while (places.length < count) {
      if (this.freeOn(track) === 0) {
        // On in the same direction, away from the directory; at the end the other side of it.
        const here = order.indexOf(track);
        const below = track < this.geometry.directoryTrack;
        const onward = order
          .slice(here + 1)
          .find((each) => each < this.geometry.directoryTrack === below && this.freeOn(each) > 0);
        track = onward ?? order.find((each) => this.freeOn(each) > 0)!;
        sector = -1;
      }
      const sectors = sectorsOfTrack(this.geometry, track);
      let at = sector < 0 ? 0 : sector + file;
      // Past the end it goes on from the start, one sector before where it would come.
      if (at >= sectors) at = Math.max(0, at - sectors - (this.geometry.kind === 'd81' ? 0 : 1));
      while (!this.isFree(track, at)) at = (at + 1) % sectors;
      this.setFree(track, at, false);
      places.push({ track, sector: at });
      sector = at;
    }
    return places;
  }

  private firstOf(at: number): Place {
    return { track: this.image[at + 3]!, sector: this.image[at + 4]! };
  }

  private chain(first: Place): Place[] {
    const places: Place[] = [];
    for (let { track, sector } = first; track !== 0;) {
      const offset = this.offset(track, sector);
      places.push({ track, sector });
      if (places.length > blocksIn(this.geometry))
        throw new VolumeRefusal('damaged', said('volume.aChainOfThis'));
      [track, sector] = [this.image[offset]!, this.image[offset + 1]!];
    }
    return places;
  }

  private release(first: Place): void {
    for (const { track, sector } of this.chain(first)) this.setFree(track, sector, true);
  }

  /** Side sectors of a record file, and the super side sector before them. */
  private releaseSides(first: Place): void {
    const pending = [first];
    const visited = new Set<number>();
    while (pending.length > 0) {
      const { track, sector } = pending.pop()!;
      const offset = this.offset(track, sector);
      if (visited.has(offset)) continue;
      visited.add(offset);
      this.setFree(track, sector, true);
      if (this.image[offset + 2] === 0xfe)
        for (let i = 0; i < 126; i++)
          if (this.image[offset + 3 + i * 2] !== 0)
            pending.push({
              track: this.image[offset + 3 + i * 2]!,
              sector: this.image[offset + 4 + i * 2]!,
            });
      if (this.image[offset] !== 0)
        pending.push({ track: this.image[offset]!, sector: this.image[offset + 1]! });
    }
  }

  /** Byte offsets of directory entries, in order. */
  private *slots(): Generator<number> {
    for (const { track, sector } of this.chain({
      track: this.geometry.directoryTrack,
      sector: this.geometry.directorySector,
    })) {
      for (let i = 0; i < 8; i++) yield this.offset(track, sector) + i * ENTRY;
    }
  }

  private find(name: string): number | null {
    const wanted = bytesOfName(name, NAME_BYTES);
    if (!wanted) return null;
    for (const at of this.slots())
      if (this.image[at + 2] !== 0 && wanted.every((byte, i) => this.image[at + 5 + i] === byte))
        return at;
    return null;
  }

  private mustFind(path: string): number {
    const at = this.find(path);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }

  /** The first free entry; the directory grows on its own track. */
  private newEntry(): number {
    for (const at of this.slots()) if (this.image[at + 2] === 0) return at;
    const { directoryTrack, directorySector, kind } = this.geometry;
    if (this.freeOn(directoryTrack) === 0)
      throw new VolumeRefusal('directory-full', said('d64.theDirectoryIsFull'));
    const chain = this.chain({ track: directoryTrack, sector: directorySector });
    const end = chain[chain.length - 1]!;
    const sectors = sectorsOfTrack(this.geometry, directoryTrack);
    let sector = (end.sector + INTERLEAVE[kind].directory) % sectors;
    while (!this.isFree(directoryTrack, sector)) sector = (sector + 1) % sectors;
    this.setFree(directoryTrack, sector, false);
    this.image.set([directoryTrack, sector], this.offset(end.track, end.sector));
    const offset = this.offset(directoryTrack, sector);
    this.image.fill(0, offset, offset + SECTOR);
    this.image[offset + 1] = 0xff;
    return offset;
  }
}
