/** ProDOS volumes written: files and folders put, removed, renamed and described. */
import {
  VolumeRefusal,
  partsOfPath,
  plainCapitals,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { ProdosImage } from './image';
import {
  BLOCK,
  ENTRY,
  ENTRY_FIELDS,
  FIRST_RECORD,
  FOLDER_HEADER_FIELDS,
  HEADER_FIELDS,
  LOCKED,
  NAME,
  PER_BLOCK,
  ROOT,
  SUBDIRECTORY,
  SUBDIRECTORY_HEADER,
  TREE,
  UNLOCKED,
  WRITABLE,
  timeBytes,
} from './records';
import { said, type Said } from '@/core/said';

const MOST_NAME = 15;

const TEXT = 0x04;

const FOLDER_TYPE = 0x0f;

const MOST_BYTES = 0xffffff;

/** Of a folder's header these eight bytes are always so. */
const HEADER_MARK = [0x75, 0x23, 0, UNLOCKED, ENTRY, PER_BLOCK, 0, 0] as const;

/** A folder, by its key block. */
interface Folder {
  key: number;
}

export class WritableProdos implements WritableVolume {
  readonly filesystem = 'prodos';
  readonly hasFolders = true;
  readonly keeps = ['type', 'modified', 'locked', 'address'] as const;
  private readonly volume: ProdosImage;

  constructor(readonly image: Uint8Array) {
    this.volume = new ProdosImage(image);
  }

  refuseName(name: string): Said | null {
    if (NAME.test(name)) return null;
    if (name.length > MOST_NAME) return said('prodos.isTooLongFifteen', { name });
    return said('prodos.aNameBeginsWith');
  }

  suggestName(wished: string): string {
    const plain = plainCapitals(wished.replaceAll(' ', '.'), /^[A-Z0-9.]$/, '.')
      .replace(/^[^A-Z]+/, '')
      .replace(/\.{2,}/g, '.')
      .replace(/\.$/, '');
    if (plain.length <= MOST_NAME) return plain || 'FILE';
    const dot = plain.lastIndexOf('.');
    const end = dot > 0 && plain.length - dot <= 5 ? plain.slice(dot) : '';
    return plain.slice(0, MOST_NAME - end.length).replace(/\.$/, '') + end;
  }

  cost(bytes: number): number {
    const blocks = Math.max(1, Math.ceil(bytes / BLOCK));
    if (blocks === 1) return 1;
    return blocks <= 256 ? blocks + 1 : blocks + Math.ceil(blocks / 256) + 1;
  }

  room(): Room {
    const { volume } = this;
    return {
      unit: 'block',
      unitBytes: BLOCK,
      total: volume.total,
      free: volume.countFree(),
      entries: [...volume.entriesOf(ROOT)].filter((at) => volume.isOpen(at)).length,
    };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    if (bytes.length > MOST_BYTES)
      throw new VolumeRefusal('too-large', said('prodos.aFileHereHolds'));
    const { folder, name } = this.placeOf(path);
    const there = this.find(folder, name);
    this.refusePut(there, path, name);
    const usual = there === null ? TEXT : this.volume.number(there, ENTRY_FIELDS.fileType);
    const type = this.typeOf(attributes.type, usual);
    const freed = there === null ? [] : this.volume.blocksOf(there);
    const grown = there === null ? this.folderNeeds(folder) : 0;
    this.volume.need(this.cost(bytes.length) + grown - freed.length);
    const at = there ?? this.startEntry(folder, name, attributes.modified);
    for (const block of freed) this.volume.setFree(block, true);
    this.writeContents(at, bytes);
    this.volume.put(at, ENTRY_FIELDS.fileType, type);
    this.volume.put(at, ENTRY_FIELDS.access, attributes.locked ? LOCKED : UNLOCKED);
    if (attributes.address !== undefined || there === null)
      this.volume.put(at, ENTRY_FIELDS.auxiliaryType, attributes.address ?? 0);
    this.putTime(at, ENTRY_FIELDS.changed.at, attributes.modified);
    if (there === null) this.volume.countFiles(folder.key, 1);
  }

  private refusePut(there: number | null, path: string, name: string): void {
    if (there !== null) return this.refuseSpecial(there, path);
    const refused = this.refuseName(name);
    if (refused) throw new VolumeRefusal('name', refused);
  }

  private startEntry(folder: Folder, name: string, modified: string | null | undefined): number {
    const at = this.volume.openEntry(folder.key) ?? this.volume.growFolder(folder.key);
    this.image.fill(0, at, at + ENTRY);
    this.volume.putName(at, name);
    this.putTime(at, ENTRY_FIELDS.made.at, modified);
    this.volume.put(at, ENTRY_FIELDS.listedIn, folder.key);
    return at;
  }

  private writeContents(at: number, bytes: Uint8Array): void {
    const { storage, key } = this.volume.store(bytes);
    this.image[at] = (storage << 4) | (this.image[at]! & 15);
    this.volume.put(at, ENTRY_FIELDS.keyBlock, key);
    this.volume.put(at, ENTRY_FIELDS.blocks, this.cost(bytes.length));
    this.volume.put(at, ENTRY_FIELDS.bytes, bytes.length);
  }

  private putTime(record: number, at: number, local: string | null | undefined): void {
    this.image.set(timeBytes(local), record + at);
  }

  remove(path: string): void {
    const { folder, name } = this.placeOf(path);
    const at = this.mustFind(folder, name, path);
    this.refuseLocked(at, path);
    if (this.volume.storageAt(at) === SUBDIRECTORY) this.freeFolder(at, path);
    else {
      for (const block of this.volume.blocksOf(at)) this.volume.setFree(block, true);
      this.volume.swapIndex(at);
    }
    // The name stays behind, without its length.
    this.image[at] = 0;
    this.volume.countFiles(folder.key, -1);
  }

  private freeFolder(at: number, path: string): void {
    const key = this.volume.number(at, ENTRY_FIELDS.keyBlock);
    for (const each of this.volume.entriesOf(key))
      if (!this.volume.isOpen(each))
        throw new VolumeRefusal('not-empty', said('volume.theFolderIsNot', { path }));
    for (const block of this.volume.folderBlocks(key)) this.volume.setFree(block, true);
  }

  rename(path: string, name: string): void {
    const { folder, name: old } = this.placeOf(path);
    const at = this.mustFind(folder, old, path);
    refuseNewName(this, name, this.find(folder, name), at);
    this.volume.putName(at, name);
    this.volume.put(at, ENTRY_FIELDS.lowerCase, 0);
    if (this.volume.storageAt(at) !== SUBDIRECTORY) return;
    const key = this.volume.number(at, ENTRY_FIELDS.keyBlock);
    this.volume.putName(key * BLOCK + FIRST_RECORD, name);
  }

  makeFolder(path: string, { modified = null }: Pick<FileAttributes, 'modified'> = {}): void {
    const { folder, name } = this.placeOf(path);
    refuseNewName(this, name, this.find(folder, name));
    this.volume.need(1 + this.folderNeeds(folder));
    const at = this.startEntry(folder, name, modified);
    const key = this.volume.take();
    this.image[at] = (SUBDIRECTORY << 4) | name.length;
    this.volume.put(at, ENTRY_FIELDS.fileType, FOLDER_TYPE);
    this.volume.put(at, ENTRY_FIELDS.keyBlock, key);
    this.volume.put(at, ENTRY_FIELDS.blocks, 1);
    this.volume.put(at, ENTRY_FIELDS.bytes, BLOCK);
    this.volume.put(at, ENTRY_FIELDS.access, UNLOCKED);
    this.putTime(at, ENTRY_FIELDS.changed.at, modified);
    this.putFolderHeader(key, name, modified, at);
    this.volume.countFiles(folder.key, 1);
  }

  private putFolderHeader(key: number, name: string, modified: string | null, at: number): void {
    const header = key * BLOCK + FIRST_RECORD;
    this.volume.clear(key);
    this.volume.putName(header, name);
    this.image[header] = (SUBDIRECTORY_HEADER << 4) | name.length;
    this.image.set(HEADER_MARK, header + 0x10);
    this.putTime(header, HEADER_FIELDS.made.at, modified);
    this.volume.put(header, HEADER_FIELDS.access, UNLOCKED);
    this.volume.put(header, HEADER_FIELDS.entryLength, ENTRY);
    this.volume.put(header, HEADER_FIELDS.entriesABlock, PER_BLOCK);
    const entry = Math.floor(((at % BLOCK) - FIRST_RECORD) / ENTRY) + 1;
    this.volume.put(header, FOLDER_HEADER_FIELDS.listedInBlock, Math.floor(at / BLOCK));
    this.volume.put(header, FOLDER_HEADER_FIELDS.listedAsEntry, entry);
    this.volume.put(header, FOLDER_HEADER_FIELDS.listedEntryLength, ENTRY);
  }

  setAttributes(path: string, { type, modified, locked, address }: FileAttributes): void {
    const { folder, name } = this.placeOf(path);
    const at = this.mustFind(folder, name, path);
    if (type !== undefined) this.volume.put(at, ENTRY_FIELDS.fileType, this.typeOf(type, 0));
    if (modified !== undefined) this.putTime(at, ENTRY_FIELDS.changed.at, modified);
    if (locked !== undefined) this.volume.put(at, ENTRY_FIELDS.access, locked ? LOCKED : UNLOCKED);
    if (address !== undefined) this.volume.put(at, ENTRY_FIELDS.auxiliaryType, address);
  }

  private typeOf(type: string | undefined, usual: number): number {
    if (type === undefined) return usual;
    if (!/^[0-9A-F]{2}$/i.test(type))
      throw new VolumeRefusal('kind', said('prodos.aFilesTypeIs', { type }));
    return parseInt(type, 16);
  }

  private refuseSpecial(at: number, path: string): void {
    const storage = this.volume.storageAt(at);
    if (storage === SUBDIRECTORY)
      throw new VolumeRefusal('is-folder', said('volume.isAFolder', { path }));
    if (storage > TREE) throw new VolumeRefusal('kind', said('prodos.hasTwoForksIt', { path }));
    this.refuseLocked(at, path);
  }

  private refuseLocked(at: number, path: string): void {
    if (!(this.volume.number(at, ENTRY_FIELDS.access) & WRITABLE))
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
  }

  private placeOf(path: string): { folder: Folder; name: string } {
    const parts = partsOfPath(path);
    const name = parts.pop()!;
    let folder: Folder = { key: ROOT };
    for (const part of parts) {
      const at = this.find(folder, part);
      if (at === null || this.volume.storageAt(at) !== SUBDIRECTORY)
        throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part }));
      folder = { key: this.volume.number(at, ENTRY_FIELDS.keyBlock) };
    }
    return { folder, name };
  }

  private find(folder: Folder, name: string): number | null {
    const wanted = name.toUpperCase();
    for (const at of this.volume.entriesOf(folder.key)) {
      if (this.volume.isOpen(at) || (this.image[at]! & 15) !== wanted.length) continue;
      if ([...wanted].every((char, i) => this.image[at + 1 + i] === char.charCodeAt(0))) return at;
    }
    return null;
  }

  private mustFind(folder: Folder, name: string, path: string): number {
    const at = this.find(folder, name);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }

  /** Blocks that a folder must grow by to take one more entry; the volume's own can't grow. */
  private folderNeeds({ key }: Folder): number {
    if (this.volume.openEntry(key) !== null) return 0;
    if (key === ROOT)
      throw new VolumeRefusal('directory-full', said('prodos.theVolumesOwnDirectory'));
    return 1;
  }
}
