/**
 * Granule volumes (35 × 18 × 256) written: the free granule nearest to the directory first, each
 * next one nearest to the one before.
 */
import {
  VolumeRefusal,
  refuseNewName,
  plainCapitals,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { numberIn, putNumber } from '../record';
import {
  DELETED,
  DIRECTORY,
  ENTRIES,
  ENTRY,
  ENTRY_FIELDS,
  FREE,
  GRANULE,
  GRANULES,
  GRANULE_BYTES,
  LAST,
  SECTOR,
  SYSTEM_TRACK,
  TABLE,
  placeOf,
  trackOf,
} from './records';
import { said, type Said } from '@/core/said';

const ALLOWED = /^[A-Z0-9!#$%&'()\-@^_+]$/;
const TYPES = [0, 1, 2, 3] as const;

export class WritableGranule implements WritableVolume {
  readonly filesystem = 'granule';
  readonly hasFolders = false;
  readonly keeps = ['type'] as const;

  constructor(readonly image: Uint8Array) {
    if (image.length !== GRANULE_BYTES)
      throw new VolumeRefusal(
        'damaged',
        said('granule.aVolumeOfThis', { granuleBytes: GRANULE_BYTES, image: image.length }),
      );
  }

  refuseName(name: string): Said | null {
    const [, stem, extension] = /^([^.]*)(?:\.([^.]*))?$/.exec(name) ?? [];
    if (!stem || (name.includes('.') && !extension)) return said('volume.aNameIsUp');
    if (stem.length > 8 || (extension?.length ?? 0) > 3)
      return said('volume.isTooLongEight', { name });
    const wrong = [...(stem + (extension ?? ''))].find((char) => !ALLOWED.test(char));
    return wrong ? said('volume.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const dot = wished.lastIndexOf('.');
    const plain = (text: string, longest: number) =>
      plainCapitals(text.replaceAll(/[. ]/g, ''), ALLOWED, '-').slice(0, longest);
    const end = dot > 0 ? plain(wished.slice(dot + 1), 3) : '';
    return `${plain(dot > 0 ? wished.slice(0, dot) : wished, 8) || 'FILE'}${end ? `.${end}` : ''}`;
  }

  cost(bytes: number): number {
    return Math.max(1, Math.ceil(bytes / GRANULE));
  }

  room(): Room {
    const free = this.table().filter((byte) => byte === FREE).length;
    const entries = this.slots().filter((at) => this.isOpen(at)).length;
    return { unit: 'granule', unitBytes: GRANULE, total: GRANULES, free, entries };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const there = this.find(path);
    const refused = there === null ? this.refuseName(path) : null;
    if (refused) throw new VolumeRefusal('name', refused);
    const type = this.typeOf(
      attributes.type ?? (there === null ? '1' : String(this.typeAt(there))),
    );
    const needed = this.cost(bytes.length);
    const freed = there === null ? 0 : this.chain(this.firstOf(there)).length;
    this.refuseFull(needed, freed, path, there);
    if (there !== null) this.release(this.firstOf(there));
    const granules = this.take(needed);
    const { rest, sectors } = this.writeGranules(granules, bytes);
    const at = there ?? this.slots().find((each) => this.isOpen(each))!;
    if (there === null) {
      this.endMark(at);
      this.image.fill(0, at, at + ENTRY);
      this.image.set(nameBytes(path), at);
    }
    const inLast = rest - (sectors - 1) * SECTOR;
    putNumber(this.image, ENTRY_FIELDS.fileType, type, at);
    putNumber(this.image, ENTRY_FIELDS.firstGranule, granules[0]!, at);
    putNumber(this.image, ENTRY_FIELDS.inLastSector, inLast, at);
  }

  private refuseFull(needed: number, freed: number, path: string, there: number | null) {
    const { free, entries } = this.room();
    if (needed > free + freed)
      throw new VolumeRefusal(
        'full',
        said('granule.theDiskHasGranules', { free: free + freed, path, needed }),
      );
    if (there === null && entries === 0)
      throw new VolumeRefusal(
        'directory-full',
        said('granule.theDirectoryIsFull', { entries: ENTRIES }),
      );
  }

  private writeGranules(granules: number[], bytes: Uint8Array) {
    for (const [i, granule] of granules.entries()) {
      const at = placeOf(granule);
      this.image.fill(0, at, at + GRANULE);
      this.image.set(bytes.subarray(i * GRANULE, (i + 1) * GRANULE), at);
    }
    const rest = bytes.length - (granules.length - 1) * GRANULE;
    const sectors = Math.max(1, Math.ceil(rest / SECTOR));
    for (const [i, granule] of granules.entries())
      this.image[TABLE + granule] = granules[i + 1] ?? LAST + sectors;
    return { rest, sectors };
  }

  remove(path: string): void {
    const at = this.mustFind(path);
    this.release(this.firstOf(at));
    this.image[at] = DELETED;
  }

  rename(path: string, name: string): void {
    const at = this.mustFind(path);
    refuseNewName(this, name, this.find(name), at);
    this.image.set(nameBytes(name), at);
  }

  makeFolder(): void {
    throw new VolumeRefusal('no-folders', said('volume.theseDisksHaveNo'));
  }

  setAttributes(path: string, { type }: FileAttributes): void {
    const at = this.mustFind(path);
    if (type !== undefined) putNumber(this.image, ENTRY_FIELDS.fileType, this.typeOf(type), at);
  }

  private typeAt(at: number): number {
    return numberIn(this.image, ENTRY_FIELDS.fileType, at);
  }

  private firstOf(at: number): number {
    return numberIn(this.image, ENTRY_FIELDS.firstGranule, at);
  }

  private typeOf(type: string): number {
    if (!(TYPES as readonly number[]).includes(Number(type)))
      throw new VolumeRefusal('kind', said('granule.filesHereAre0'));
    return Number(type);
  }

  private table(): Uint8Array {
    return this.image.subarray(TABLE, TABLE + GRANULES);
  }

  private slots(): number[] {
    return Array.from({ length: ENTRIES }, (_, i) => DIRECTORY + i * ENTRY);
  }

  private isOpen(at: number): boolean {
    return this.image[at] === DELETED || this.image[at] === FREE;
  }

  /**
   * Behind the first entry that was never used the directory ends: the next must end it in its
   * place.
   */
  private endMark(at: number): void {
    if (this.image[at] === FREE && at + ENTRY < DIRECTORY + ENTRIES * ENTRY)
      this.image[at + ENTRY] = FREE;
  }

  private find(name: string): number | null {
    if (this.refuseName(name)) return null;
    const wanted = nameBytes(name);
    for (const at of this.slots()) {
      if (this.image[at] === FREE) return null;
      if (this.image[at] !== DELETED && wanted.every((byte, i) => this.image[at + i] === byte))
        return at;
    }
    return null;
  }

  private mustFind(path: string): number {
    const at = this.find(path);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }

  private chain(first: number): number[] {
    const granules: number[] = [];
    for (let granule = first; granule < GRANULES; granule = this.image[TABLE + granule]!) {
      granules.push(granule);
      if (granules.length > GRANULES)
        throw new VolumeRefusal('damaged', said('volume.aChainOfThis'));
    }
    return granules;
  }

  private release(first: number): void {
    for (const granule of this.chain(first)) this.image[TABLE + granule] = FREE;
  }

  private take(count: number): number[] {
    const granules: number[] = [];
    let near: number = SYSTEM_TRACK;
    const free = new Set(
      Array.from({ length: GRANULES }, (_, granule) => granule).filter(
        (granule) => this.image[TABLE + granule] === FREE,
      ),
    );
    while (granules.length < count) {
      let best = -1;
      for (const granule of free)
        if (best < 0 || Math.abs(trackOf(granule) - near) < Math.abs(trackOf(best) - near))
          best = granule;
      free.delete(best);
      granules.push(best);
      near = trackOf(best);
    }
    return granules;
  }
}

function nameBytes(name: string): Uint8Array {
  const [stem = '', extension = ''] = name.split('.');
  return new TextEncoder().encode(stem.padEnd(8) + extension.padEnd(3));
}

/** A disk with nothing on it. */
export function formatGranule(): Uint8Array {
  const image = new Uint8Array(GRANULE_BYTES).fill(FREE);
  image.fill(0, TABLE + GRANULES, TABLE + SECTOR);
  return image;
}
