/** One directory tree of an ISO 9660 disc (ECMA-119), walked record by record. */
import type { ByteSource } from '@/core/bits/byte-source';
import { fileEntry, pathOf, ProblemList, tellLongName } from '../extent-volume';
import { joined } from '../extents';
import { extentSource } from '../extent-source';
import type { Extent, VolumeEntry } from '../volume';
import { readRecord, type DirectoryRecord } from './directory-record';
import { readRockRidge, type RockRidge } from './rock-ridge';
import { ucs2 } from './descriptors';
import type { PathRecord } from './path-table';
import { placesInSource } from './places';
import { SECTOR, LIMITS, ascii, type Descriptor } from './records';
import { zisofsHeader } from './zisofs';
import { said, type Words } from '@/core/said';

/** The name without its version, and without the dot that stands where there is no extension. */
const plainName = (name: string) => name.replace(/;\d*$/, '').replace(/\.$/, '');

/** Where the name of the first record begins, which is one zero. */
const FIRST_NAME = 33;

/** How zisofs is named in a record. */
const ZISOFS = 'pz';

/** A file as far as its records were read. */
interface PendingFile {
  first: DirectoryRecord;
  ridge: RockRidge | null;
  extents: Extent[];
  bytes: number;
  damaged: boolean;
}

/** The directory that a record stands in. */
interface Above {
  folders: readonly string[];
  block: number;
}

/** A directory that was entered. */
export interface WalkedDirectory {
  recordedName: string;
  /** Block of the one above it. */
  parent: number;
  folders: readonly string[];
}

export class Walk {
  readonly entries: VolumeEntry[] = [];
  /** Every directory entered, by its block. */
  readonly directories = new Map<number, WalkedDirectory>();
  private count = 0;

  constructor(
    private readonly source: ByteSource,
    private readonly descriptor: Descriptor,
    private readonly problems: ProblemList,
    private readonly skip: number | null,
  ) {}

  /** Bytes of a directory, no more than the source has. */
  private bytesOf({
    block,
    attributeBlocks,
    bytes,
  }: Pick<DirectoryRecord, 'block' | 'attributeBlocks' | 'bytes'>): Promise<Uint8Array> {
    return this.source.read(
      (block + attributeBlocks) * this.descriptor.blockBytes,
      Math.min(bytes, LIMITS.directoryBytes),
    );
  }

  /** Directories that the path table has and the tree does not lead to, where they are ones. */
  async lostDirectories(records: readonly PathRecord[]): Promise<void> {
    for (const { block, name, parent } of records.slice(1)) {
      if (this.directories.has(block)) continue;
      const at = block * this.descriptor.blockBytes;
      const own = readRecord(await this.source.read(at, SECTOR), 0, at, this.descriptor);
      if (!own?.isDirectory || own.block !== block || own.name[0] !== 0) continue;
      const parentBlock = records[parent]!.block;
      const folders = this.directories.get(parentBlock)?.folders ?? [];
      this.problems.report(
        'directory-damaged',
        at,
        said('iso9660.onlyThePathTable', { name: plainName(this.textOf(name)) }),
      );
      await this.folder({ ...own, name }, own, null, { folders, block: parentBlock });
    }
  }

  async directory(
    record: DirectoryRecord,
    folders: readonly string[],
    listed: Pick<WalkedDirectory, 'recordedName' | 'parent'> = {
      recordedName: '',
      parent: record.block,
    },
  ): Promise<void> {
    const { blockBytes } = this.descriptor;
    const base = (record.block + record.attributeBlocks) * blockBytes;
    const place = folders.join('/') || said('volume.theRootDirectory');
    if (this.directories.has(record.block))
      return this.problems.report(
        'directory-loop',
        record.at,
        said('volume.leadsBackToA', { place }),
      );
    if (folders.length > LIMITS.depth)
      return this.problems.report(
        'too-many-entries',
        record.at,
        said('volume.liesDeeperThanFolders', { place, depth: LIMITS.depth }),
      );
    this.directories.set(record.block, { ...listed, folders });
    this.tellCutDirectory(base, record, place);
    const bytes = await this.bytesOf(record);
    this.tellEmptySectors(bytes, base, place);
    let pending: PendingFile | null = null;
    for (const each of this.records(bytes, base, place)) {
      if (++this.count > LIMITS.entries)
        return this.problems.report(
          'too-many-entries',
          each.at + each.length,
          said('volume.moreThanEntriesThe', { entries: LIMITS.entries }),
        );
      const ridge = await this.ridgeOf(each, place);
      this.tellMismatch(each);
      if (pending && (each.isDirectory || ascii(each.name) !== ascii(pending.first.name))) {
        await this.breakOff(pending, folders);
        pending = null;
      }
      tellLongName(this.nameOf(each, ridge), this.problems, each.at);
      if (ridge?.isRelocated) continue;
      const above = { folders, block: record.block };
      if (ridge && ridge.childAt !== null) await this.childElsewhere(each, ridge, above);
      else if (each.isDirectory) await this.folder(each, each, ridge, above);
      else {
        pending = this.grown(pending, each, ridge);
        if (each.goesOn) continue;
        await this.file(pending, folders);
        pending = null;
      }
    }
    if (pending) await this.breakOff(pending, folders);
  }

  /** The records of a directory, without the directory's own and that of the one above it. */
  private *records(bytes: Uint8Array, base: number, place: Words): Generator<DirectoryRecord> {
    for (let at = 0; at < bytes.length;) {
      const each = bytes[at] === 0 ? null : readRecord(bytes, at, base, this.descriptor);
      if (each) {
        at += each.length;
        if (each.name.length !== 1 || each.name[0]! > 1) yield each;
        continue;
      }
      if (bytes[at] !== 0)
        this.problems.report(
          'directory-damaged',
          base + at,
          said('iso9660.aRecordOfMakes', { place }),
        );
      // Records never cross from one sector to the next.
      at = (Math.floor(at / SECTOR) + 1) * SECTOR;
    }
  }

  /**
   * A directory begins with a record of its own, and none of its sectors up to the last that is used
   * is without one.
   */
  private tellEmptySectors(bytes: Uint8Array, base: number, place: Words): void {
    const starts = Array.from({ length: Math.ceil(bytes.length / SECTOR) }, (_, i) => i * SECTOR);
    const lastUsed = starts.findLast((at) => bytes[at] !== 0) ?? 0;
    const isOwn = bytes.length <= FIRST_NAME || bytes[FIRST_NAME] === 0;
    for (const at of starts.filter((start) => start <= lastUsed))
      if (bytes[at] === 0 || (at === 0 && !isOwn))
        this.problems.report(
          'directory-damaged',
          base + at,
          said('iso9660.aSectorOfLists', { place }),
        );
  }

  private async ridgeOf(each: DirectoryRecord, place: Words): Promise<RockRidge | null> {
    if (this.skip === null) return null;
    const { blockBytes } = this.descriptor;
    const ridge = await readRockRidge(this.source, each, this.skip, blockBytes);
    if (ridge.damaged)
      this.problems.report(
        'rockridge-damaged',
        each.at,
        said('iso9660.theSystemUseEntries', { place, name: ascii(each.name) }),
      );
    return ridge;
  }

  /** A file of several records, with one more. */
  private grown(
    pending: PendingFile | null,
    each: DirectoryRecord,
    ridge: RockRidge | null,
  ): PendingFile {
    const { extents, cut } = this.extentsOf(each);
    const file = pending ?? { first: each, ridge, extents: [], bytes: 0, damaged: false };
    file.extents.push(...extents);
    file.bytes += each.bytes;
    file.damaged ||= cut;
    return file;
  }

  /** A file whose next record does not follow. */
  private async breakOff(pending: PendingFile, folders: readonly string[]): Promise<void> {
    this.problems.report(
      'multi-extent-broken',
      pending.first.at,
      said('iso9660.shouldGoOnIn', { first: this.nameOf(pending.first, pending.ridge) }),
    );
    await this.file({ ...pending, damaged: true }, folders);
  }

  /** A directory with all that is in it: `each` names it, and its records stand where `own` says. */
  private async folder(
    each: DirectoryRecord,
    own: DirectoryRecord,
    ridge: RockRidge | null,
    { folders, block: parent }: Above,
  ): Promise<void> {
    const recordedName = this.nameOf(each, ridge);
    const path = pathOf(folders, recordedName, this.problems, each.at);
    const modified = ridge?.modified ?? each.recorded;
    this.entries.push(
      fileEntry({ path, recordedName, kind: 'directory', bytes: 0, extents: [], modified }),
    );
    const listed = { recordedName: ascii(each.name), parent };
    await this.directory(own, [...folders, path.split('/').pop()!], listed);
  }

  private tellCutDirectory(base: number, record: DirectoryRecord, place: Words) {
    if (base + record.bytes > this.source.size)
      this.problems.report(
        'extent-past-end',
        record.at,
        said('iso9660.goesOnBehindThe', { place }),
      );
  }

  private tellMismatch(each: DirectoryRecord) {
    if (each.differs)
      this.problems.report(
        'both-endian-mismatch',
        each.at,
        said('iso9660.theOfIsOne', {
          what: each.differs.what,
          name: plainName(ascii(each.name)),
          little: each.differs.little,
          big: each.differs.big,
          block: each.differs.isPlace ? each.block : each.bytes,
        }),
      );
  }

  /**
   * A directory that lies too deep for the plain view stands elsewhere; its own record is the first
   * there.
   */
  private async childElsewhere(
    each: DirectoryRecord,
    ridge: RockRidge,
    above: Above,
  ): Promise<void> {
    const { blockBytes } = this.descriptor;
    const own = readRecord(
      await this.source.read(ridge.childAt! * blockBytes, SECTOR),
      0,
      ridge.childAt! * blockBytes,
      this.descriptor,
    );
    if (!own?.isDirectory)
      return this.problems.report(
        'rockridge-damaged',
        each.at,
        said('iso9660.shouldBeADirectory', { each: this.nameOf(each, ridge) }),
      );
    await this.folder(each, { ...own, block: ridge.childAt! }, ridge, above);
  }

  private textOf(name: Uint8Array): string {
    return this.descriptor.kind === 'joliet' ? ucs2(name) : ascii(name);
  }

  private nameOf({ name }: DirectoryRecord, ridge: RockRidge | null): string {
    return ridge?.name ?? plainName(this.textOf(name));
  }

  /** Where its bytes lie. */
  private extentsOf(each: DirectoryRecord): { extents: Extent[]; cut: boolean } {
    const places = placesInSource(each, this.descriptor.blockBytes, this.source.size);
    const { bytes, block } = each;
    if (places.cut)
      this.problems.report(
        'extent-past-end',
        each.at,
        said('iso9660.aFileOfBytes', { bytes, block }),
      );
    return places;
  }

  private async file(pending: PendingFile, folders: readonly string[]): Promise<void> {
    const { first: record, ridge, extents, bytes, damaged } = pending;
    if (record.isAssociated) return;
    const name = this.nameOf(record, ridge);
    const link = ridge?.link ?? null;
    const path = pathOf(folders, name, this.problems, record.at);
    this.entries.push(
      fileEntry({
        path,
        recordedName: name,
        bytes: link === null ? bytes : 0,
        extents: link === null ? joined(extents) : [],
        modified: ridge?.modified ?? record.recorded,
        damaged,
        ...(link !== null && { link }),
        ...(await this.packingOf(pending, path)),
      }),
    );
  }

  /** What is said of a file that is packed; one that can't be unpacked stays as it is recorded. */
  private async packingOf(
    { first, ridge, extents, bytes }: PendingFile,
    path: string,
  ): Promise<Partial<VolumeEntry>> {
    if (!ridge?.packed) return {};
    const header =
      ridge.packed.method === ZISOFS
        ? await zisofsHeader(extentSource(this.source, { extents, bytes }), bytes)
        : null;
    // What the record says and what the file says must be the same.
    if (header && ridge.packed.sizes.includes(header.bytes))
      return { type: 'packed', bytes: header.bytes, packedBytes: bytes };
    this.problems.report('packed-data-damaged', first.at, said('iso9660.isPackedIn', { path }));
    return { type: 'packed' };
  }
}
