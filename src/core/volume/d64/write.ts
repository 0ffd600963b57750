/** Volumes of the `.d64` family written: files put, removed, renamed and described. */
import { bytesIn, numberIn, putNumber, type Field } from '../record';
import {
  VolumeRefusal,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import {
  SECTOR,
  SIZES,
  blocksIn,
  sectorsOfTrack,
  type D64Geometry,
  type D64Kind,
} from './geometry';
import { D64Image, type Place } from './image';
import { bytesOfName } from './names';
import {
  CLOSED,
  DATA,
  ENTRY,
  ENTRY_FIELDS,
  LOCKED,
  NAME_BYTES,
  PER_SECTOR,
  REL,
  TYPES,
  typeIn,
} from './records';
import { said, type Said } from '@/core/said';

/** What a file can be made as; record files and partitions are kept, and not made. */
const MADE_TYPES = TYPES.slice(0, REL);

/** Characters that mean something else to its own system. */
const SPECIAL = '",:*?=@$\u00a0';

export class WritableD64 implements WritableVolume {
  readonly filesystem: D64Kind;
  readonly hasFolders = false;
  readonly keeps = ['type', 'locked'] as const;
  private readonly geometry: D64Geometry;
  private readonly volume: D64Image;

  constructor(readonly image: Uint8Array) {
    const geometry = SIZES.find(([bytes]) => bytes === image.length)?.[1];
    if (!geometry)
      throw new VolumeRefusal('damaged', said('d64.anImageOfBytes', { image: image.length }));
    if (geometry.kind === 'd64' && geometry.tracks > 35)
      throw new VolumeRefusal('kind', said('d64.disksOf40Tracks'));
    this.geometry = geometry;
    this.filesystem = geometry.kind;
    this.volume = new D64Image(image, geometry);
  }

  refuseName(name: string): Said | null {
    if (name === '') return said('d64.aNameHasAt');
    if (!bytesOfName(name, NAME_BYTES))
      return [...name].length > NAME_BYTES
        ? said('d64.isTooLongSixteen', { name })
        : said('d64.aCharacterOfIs', { name });
    const wrong = [...name].find((char) => SPECIAL.includes(char));
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
    const { geometry, volume } = this;
    let free = 0;
    for (let track = 1; track <= geometry.tracks; track++)
      if (!geometry.reserved.includes(track)) free += volume.freeOn(track);
    const kept = geometry.reserved.reduce((sum, each) => sum + sectorsOfTrack(geometry, each), 0);
    const total = blocksIn(geometry) - kept;
    const open = [...volume.entries()].filter((at) => this.isOpen(at)).length;
    const entries = open + volume.freeOn(geometry.directoryTrack) * PER_SECTOR;
    return { unit: 'block', unitBytes: SECTOR, total, free, entries };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const there = this.find(path);
    this.refusePut(there, path);
    const type = this.typeOf(attributes.type ?? (there === null ? 'PRG' : this.typeAt(there)));
    const needed = this.cost(bytes.length);
    const freed = there === null ? 0 : this.volume.chain(this.firstOf(there)).length;
    const free = this.room().free + freed;
    if (needed > free)
      throw new VolumeRefusal('full', said('d64.theDiskHasBlocks', { free, path, needed }));
    const at = there ?? this.openEntry() ?? this.volume.growDirectory();
    if (there !== null) this.volume.release(this.firstOf(there));
    const places = this.volume.take(needed);
    this.volume.writeChain(places, bytes);
    if (there === null) this.startEntry(at, path);
    const { track, sector } = places[0]!;
    const flags = CLOSED | (attributes.locked ? LOCKED : 0);
    this.putField(at, ENTRY_FIELDS.fileType, flags | type);
    this.image.set([track, sector], at + ENTRY_FIELDS.firstSector.at);
    this.putField(at, ENTRY_FIELDS.blocks, needed);
  }

  private refusePut(there: number | null, path: string): void {
    if (there !== null) return this.refuseSpecial(there, path);
    const refused = this.refuseName(path);
    if (refused) throw new VolumeRefusal('name', refused);
  }

  private startEntry(at: number, name: string): void {
    // The first two bytes of a sector's first entry are the link to the next sector.
    this.image.fill(0, at + ENTRY_FIELDS.fileType.at, at + ENTRY);
    this.putName(at, name);
  }

  private putName(at: number, name: string): void {
    this.image.set(bytesOfName(name, NAME_BYTES)!, at + ENTRY_FIELDS.name.at);
  }

  private putField(at: number, field: Field, value: number): void {
    putNumber(this.image, field, value, at);
  }

  remove(path: string): void {
    const at = this.mustFind(path);
    this.refuseLocked(at, path);
    const type = this.typeNumberAt(at);
    if (type > REL) throw new VolumeRefusal('kind', said('d64.isAPartitionIt', { path }));
    if (type !== 0) this.volume.release(this.firstOf(at));
    const sides = this.volume.placeAt(at + ENTRY_FIELDS.sideSector.at);
    if (type === REL && sides.track !== 0) this.volume.releaseSides(sides);
    this.putField(at, ENTRY_FIELDS.fileType, 0);
  }

  rename(path: string, name: string): void {
    const at = this.mustFind(path);
    refuseNewName(this, name, this.find(name), at);
    this.putName(at, name);
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('volume.theseDisksHaveNo'));
  }

  setAttributes(path: string, { type, locked }: FileAttributes): void {
    const at = this.mustFind(path);
    if (type !== undefined) {
      this.refuseSpecial(at, path);
      this.putField(at, ENTRY_FIELDS.fileType, (this.flagsAt(at) & 0xf0) | this.typeOf(type));
    }
    if (locked !== undefined)
      this.putField(
        at,
        ENTRY_FIELDS.fileType,
        (this.flagsAt(at) & ~LOCKED) | (locked ? LOCKED : 0),
      );
  }

  private typeOf(type: string): number {
    const number = (MADE_TYPES as readonly string[]).indexOf(type.toUpperCase());
    if (number < 0)
      throw new VolumeRefusal(
        'kind',
        said('volume.filesHereAreNot', { types: MADE_TYPES.slice(1).join(', '), type }),
      );
    return number;
  }

  private flagsAt(at: number): number {
    return numberIn(this.image, ENTRY_FIELDS.fileType, at);
  }

  private typeNumberAt(at: number): number {
    return typeIn(this.image.subarray(at, at + ENTRY));
  }

  private typeAt(at: number): string {
    return MADE_TYPES[this.typeNumberAt(at)] ?? 'PRG';
  }

  private refuseLocked(at: number, path: string): void {
    if (this.flagsAt(at) & LOCKED)
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
  }

  private refuseSpecial(at: number, path: string): void {
    this.refuseLocked(at, path);
    if (this.typeNumberAt(at) >= REL)
      throw new VolumeRefusal('kind', said('d64.isARecordFile', { path }));
  }

  private firstOf(at: number): Place {
    return this.volume.placeAt(at + ENTRY_FIELDS.firstSector.at);
  }

  private isOpen(at: number): boolean {
    return this.flagsAt(at) === 0;
  }

  private find(name: string): number | null {
    const wanted = bytesOfName(name, NAME_BYTES);
    if (!wanted) return null;
    for (const at of this.volume.entries()) {
      const own = bytesIn(this.image, ENTRY_FIELDS.name, at);
      if (!this.isOpen(at) && wanted.every((byte, i) => own[i] === byte)) return at;
    }
    return null;
  }

  private mustFind(path: string): number {
    const at = this.find(path);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }

  private openEntry(): number | null {
    for (const at of this.volume.entries()) if (this.isOpen(at)) return at;
    return null;
  }
}
