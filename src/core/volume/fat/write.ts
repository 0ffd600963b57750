/**
 * FAT12 and FAT16 volumes written (ECMA-107, ISO/IEC 9293): short names, first free cluster first,
 * first free entry first, as their own system does.
 */
import { numberIn, putNumber, type Field } from '../record';
import {
  VolumeRefusal,
  partsOfPath,
  plainCapitals,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { FatImage, ROOT } from './image';
import { bytes437 } from './names';
import {
  ARCHIVE,
  DELETED,
  DIRECTORY,
  ENTRY,
  ENTRY_FIELDS,
  ESCAPED_E5,
  LABEL,
  LONG_NAME,
  NEVER_USED,
  READ_ONLY,
  timeBytes,
} from './records';
import { said, type Said } from '@/core/said';

const ALLOWED = /^[A-Z0-9!#$%&'()\-@^_`{}~ÇÄÅÉÆÖÜÑ]$/;

/** A dot, as the first letter of the entries by which a folder lists itself and its parent. */
const DOT = 0x2e;

interface Found {
  at: number;
  firstCluster: number;
  attributes: number;
}

interface Place {
  /** The folder's first cluster, or `ROOT`. */
  folder: number;
  name: string;
}

/** What an entry says beside its name. */
interface Described {
  attributes: number;
  first: number;
  bytes: number;
  modified: string | null;
}

function shortBytes(name: string): Uint8Array {
  const [stem = '', extension = ''] = name.split('.');
  const out = bytes437(stem.padEnd(8) + extension.padEnd(3));
  if (out[0] === DELETED) out[0] = ESCAPED_E5;
  return out;
}

const dots = (count: number) => bytes437('.'.repeat(count).padEnd(11));

export class WritableFat implements WritableVolume {
  readonly filesystem: string;
  readonly hasFolders = true;
  readonly keeps = ['modified', 'locked'] as const;
  private readonly volume: FatImage;

  /** Throws VolumeRefusal where the image is no FAT12 or FAT16 volume that is whole. */
  constructor(readonly image: Uint8Array) {
    this.volume = new FatImage(image);
    this.filesystem = `fat${this.volume.geometry.width}`;
  }

  refuseName(name: string): Said | null {
    const [, stem, extension] = /^([^.]*)(?:\.([^.]*))?$/.exec(name) ?? [];
    if (stem === undefined || stem === '' || (name.includes('.') && !extension))
      return said('volume.aNameIsUp');
    if (stem.length > 8 || (extension?.length ?? 0) > 3)
      return said('volume.isTooLongEight', { name });
    const wrong = [...(stem + (extension ?? ''))].find((char) => !ALLOWED.test(char));
    return wrong ? said('fat.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const dot = wished.lastIndexOf('.');
    const [stem, extension] =
      dot > 0 ? [wished.slice(0, dot), wished.slice(dot + 1)] : [wished, ''];
    const plain = (text: string, longest: number) =>
      plainCapitals(text.replaceAll(/[. ]/g, ''), ALLOWED, '_').slice(0, longest);
    const end = plain(extension, 3);
    return `${plain(stem, 8) || 'FILE'}${end ? `.${end}` : ''}`;
  }

  cost(bytes: number): number {
    const { clusterBytes } = this.volume;
    return Math.ceil(bytes / clusterBytes) * clusterBytes;
  }

  room(): Room {
    const { clusterBytes, geometry } = this.volume;
    return {
      unit: 'byte',
      unitBytes: 1,
      total: geometry.clusters * clusterBytes,
      free: this.volume.countFree() * clusterBytes,
      entries: [...this.volume.entriesOf(ROOT)].filter((at) => this.isOpen(at)).length,
    };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const place = this.placeOf(path);
    const there = this.find(place);
    this.refusePut(there, path, place.name);
    const freed = there ? this.volume.chain(there.firstCluster).length : 0;
    const needed = Math.ceil(bytes.length / this.volume.clusterBytes);
    const grown = there ? 0 : this.folderNeeds(place.folder);
    this.volume.need(needed + grown - freed);
    const at = there?.at ?? this.newEntry(place);
    if (there) this.volume.free(there.firstCluster);
    const clusters = this.volume.take(needed);
    this.volume.fill(clusters, bytes);
    const kept = (there?.attributes ?? 0) & ~READ_ONLY;
    this.describe(at, {
      attributes: kept | ARCHIVE | (attributes.locked ? READ_ONLY : 0),
      first: clusters[0] ?? 0,
      bytes: bytes.length,
      modified: attributes.modified ?? null,
    });
  }

  private refusePut(there: Found | null, path: string, name: string): void {
    if (there) {
      if (there.attributes & DIRECTORY)
        throw new VolumeRefusal('is-folder', said('volume.isAFolder', { path }));
      this.refuseReadOnly(there, path);
      return;
    }
    const refused = this.refuseName(name);
    if (refused) throw new VolumeRefusal('name', refused);
  }

  private refuseReadOnly({ attributes }: Found, path: string): void {
    if (attributes & READ_ONLY)
      throw new VolumeRefusal('locked', said('volume.isReadOnlyTake', { path }));
  }

  remove(path: string): void {
    const place = this.placeOf(path);
    const there = this.mustFind(place, path);
    if (!(there.attributes & DIRECTORY)) this.refuseReadOnly(there, path);
    else if (this.holdsFiles(there.firstCluster))
      throw new VolumeRefusal('not-empty', said('volume.theFolderIsNot', { path }));
    this.dropLongName(place.folder, there.at);
    this.image[there.at] = DELETED;
    this.volume.free(there.firstCluster);
  }

  private holdsFiles(folder: number): boolean {
    for (const at of this.volume.entriesOf(folder)) {
      const first = this.image[at];
      if (first === NEVER_USED) return false;
      const isPartOfName = this.number(at, ENTRY_FIELDS.attributes) === LONG_NAME;
      if (first !== DELETED && first !== DOT && !isPartOfName) return true;
    }
    return false;
  }

  rename(path: string, name: string): void {
    const place = this.placeOf(path);
    const there = this.mustFind(place, path);
    refuseNewName(this, name, this.find({ ...place, name })?.at ?? null, there.at);
    this.dropLongName(place.folder, there.at);
    this.putName(there.at, name);
  }

  makeFolder(path: string, { modified = null }: Pick<FileAttributes, 'modified'> = {}): void {
    const place = this.placeOf(path);
    refuseNewName(this, place.name, this.find(place)?.at ?? null);
    this.volume.need(1 + this.folderNeeds(place.folder));
    const at = this.newEntry(place);
    const [first] = this.volume.take(1) as [number];
    const offset = this.volume.offsetOf(first);
    this.volume.clear(first);
    const folder = { attributes: DIRECTORY, bytes: 0, modified };
    this.describe(at, { ...folder, first });
    this.describe(offset, { ...folder, first });
    this.image.set(dots(1), offset);
    this.describe(offset + ENTRY, { ...folder, first: place.folder });
    this.image.set(dots(2), offset + ENTRY);
  }

  setAttributes(path: string, { locked, modified }: FileAttributes): void {
    const { at, attributes } = this.mustFind(this.placeOf(path), path);
    if (locked !== undefined) {
      const kept = attributes & ~READ_ONLY;
      putNumber(this.image, ENTRY_FIELDS.attributes, kept | (locked ? READ_ONLY : 0), at);
    }
    if (modified !== undefined) this.putTime(at, modified);
  }

  private placeOf(path: string): Place {
    const parts = partsOfPath(path);
    const name = parts.pop()!;
    let folder = ROOT;
    for (const part of parts) {
      const found = this.find({ folder, name: part });
      if (!found || !(found.attributes & DIRECTORY))
        throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part }));
      folder = found.firstCluster;
    }
    return { folder, name };
  }

  private number(at: number, field: Field): number {
    return numberIn(this.image, field, at);
  }

  private isOpen(at: number): boolean {
    return this.image[at] === NEVER_USED || this.image[at] === DELETED;
  }

  private find({ folder, name }: Place): Found | null {
    if (this.refuseName(name)) return null;
    const wanted = shortBytes(name);
    for (const at of this.volume.entriesOf(folder)) {
      if (this.image[at] === NEVER_USED) return null;
      const attributes = this.number(at, ENTRY_FIELDS.attributes);
      if (this.image[at] === DELETED || attributes & LABEL) continue;
      if (!wanted.every((byte, i) => this.image[at + i] === byte)) continue;
      return { at, attributes, firstCluster: this.number(at, ENTRY_FIELDS.firstCluster) };
    }
    return null;
  }

  private mustFind(place: Place, path: string): Found {
    const found = this.find(place);
    if (!found) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return found;
  }

  private openEntry(folder: number): number | null {
    for (const at of this.volume.entriesOf(folder)) if (this.isOpen(at)) return at;
    return null;
  }

  /** Clusters that a folder must grow by to take one more entry; the root can't grow. */
  private folderNeeds(folder: number): number {
    if (this.openEntry(folder) !== null) return 0;
    if (folder !== ROOT) return 1;
    const { rootEntries } = this.volume.geometry;
    throw new VolumeRefusal('directory-full', said('fat.theRootDirectoryIs', { rootEntries }));
  }

  /** The first free entry of a folder, which grows by a cluster where it has none. */
  private newEntry({ folder, name }: Place): number {
    const at = this.openEntry(folder) ?? this.volume.growFolder(folder);
    this.image.fill(0, at, at + ENTRY);
    this.putName(at, name);
    return at;
  }

  private putName(at: number, name: string): void {
    this.image.set(shortBytes(name), at);
    putNumber(this.image, ENTRY_FIELDS.nameCase, 0, at);
  }

  private describe(at: number, { attributes, first, bytes, modified }: Described): void {
    putNumber(this.image, ENTRY_FIELDS.attributes, attributes, at);
    this.putTime(at, modified);
    putNumber(this.image, ENTRY_FIELDS.firstCluster, first, at);
    putNumber(this.image, ENTRY_FIELDS.bytes, bytes, at);
  }

  private putTime(at: number, modified: string | null): void {
    this.image.set(timeBytes(modified), at + ENTRY_FIELDS.changed.at);
  }

  /** The long name before an entry would outlive it. */
  private dropLongName(folder: number, entry: number): void {
    const before: number[] = [];
    for (const at of this.volume.entriesOf(folder)) {
      if (at === entry) break;
      const isPartOfName = this.number(at, ENTRY_FIELDS.attributes) === LONG_NAME;
      if (isPartOfName && this.image[at] !== DELETED) before.push(at);
      else before.length = 0;
    }
    for (const at of before) this.image[at] = DELETED;
  }
}
