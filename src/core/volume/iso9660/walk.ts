/** One directory tree of an ISO 9660 disc (ECMA-119), walked record by record. */
import type { ByteSource } from '@/core/bits/byte-source';
import { fileEntry, joined, pathOf, ProblemList, tellLongName } from '../extent-volume';
import type { Extent, VolumeEntry } from '../volume';
import { readRecord, type DirectoryRecord } from './directory-record';
import { readRockRidge, type RockRidge } from './rock-ridge';
import { type Descriptor, ucs2 } from './descriptors';
import { SECTOR, LIMITS, ascii } from './records';
import { said, type Words } from '@/core/said';

/** The name without its version, and without the dot that stands where there is no extension. */
const plainName = (name: string) => name.replace(/;\d*$/, '').replace(/\.$/, '');

/** A file as far as its records were read. */
interface PendingFile {
  first: DirectoryRecord;
  ridge: RockRidge | null;
  extents: Extent[];
  bytes: number;
  damaged: boolean;
}

export class Walk {
  readonly entries: VolumeEntry[] = [];
  /** Blocks of every directory entered. */
  readonly directories = new Set<number>();
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

  async directory(record: DirectoryRecord, folders: readonly string[]): Promise<void> {
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
    this.directories.add(record.block);
    this.tellCutDirectory(base, record, place);
    const bytes = await this.bytesOf(record);
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
        this.breakOff(pending, folders);
        pending = null;
      }
      tellLongName(this.nameOf(each, ridge), this.problems, each.at);
      if (ridge?.isRelocated) continue;
      if (ridge && ridge.childAt !== null) await this.childElsewhere(each, ridge, folders);
      else if (each.isDirectory) await this.folder(each, each, ridge, folders);
      else {
        pending = this.grown(pending, each, ridge);
        if (each.goesOn) continue;
        this.file(pending, folders);
        pending = null;
      }
    }
    if (pending) this.breakOff(pending, folders);
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
  private breakOff(pending: PendingFile, folders: readonly string[]): void {
    this.problems.report(
      'multi-extent-broken',
      pending.first.at,
      said('iso9660.shouldGoOnIn', { first: this.nameOf(pending.first, pending.ridge) }),
    );
    this.file({ ...pending, damaged: true }, folders);
  }

  /** A directory with all that is in it: `each` names it, and its records stand where `own` says. */
  private async folder(
    each: DirectoryRecord,
    own: DirectoryRecord,
    ridge: RockRidge | null,
    folders: readonly string[],
  ): Promise<void> {
    const recordedName = this.nameOf(each, ridge);
    const path = pathOf(folders, recordedName, this.problems, each.at);
    const modified = ridge?.modified ?? each.recorded;
    this.entries.push(
      fileEntry({ path, recordedName, kind: 'directory', bytes: 0, extents: [], modified }),
    );
    await this.directory(own, [...folders, path.split('/').pop()!]);
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
    folders: readonly string[],
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
    await this.folder(each, { ...own, block: ridge.childAt! }, ridge, folders);
  }

  private nameOf({ name }: DirectoryRecord, ridge: RockRidge | null): string {
    return ridge?.name ?? plainName(this.descriptor.kind === 'joliet' ? ucs2(name) : ascii(name));
  }

  /** Where its bytes lie; those of an interleaved file in units with gaps between them. */
  private extentsOf({ block, attributeBlocks, bytes, unit, gap, at }: DirectoryRecord): {
    extents: Extent[];
    cut: boolean;
  } {
    const { blockBytes } = this.descriptor;
    const start = (block + attributeBlocks) * blockBytes;
    const extents: Extent[] = [];
    if (unit === 0) extents.push({ offset: start, length: bytes });
    else
      for (
        let done = 0, offset = start;
        done < bytes;
        done += unit * blockBytes, offset += (unit + gap) * blockBytes
      ) {
        if (offset > this.source.size) break;
        extents.push({ offset, length: Math.min(unit * blockBytes, bytes - done) });
      }
    const there = extents
      .flatMap(({ offset, length }) =>
        offset >= this.source.size
          ? []
          : [{ offset, length: Math.min(length, this.source.size - offset) }],
      )
      .filter(({ length }) => length > 0);
    const cut = there.reduce((sum, { length }) => sum + length, 0) < bytes;
    if (cut)
      this.problems.report('extent-past-end', at, said('iso9660.aFileOfBytes', { bytes, block }));
    return { extents: there, cut };
  }

  private file(
    { first: record, ridge, extents, bytes, damaged }: PendingFile,
    folders: readonly string[],
  ): void {
    if (record.isAssociated) return;
    const name = this.nameOf(record, ridge);
    const link = ridge?.link ?? null;
    this.entries.push(
      fileEntry({
        path: pathOf(folders, name, this.problems, record.at),
        recordedName: name,
        bytes: link === null ? bytes : 0,
        extents: link === null ? joined(extents) : [],
        modified: ridge?.modified ?? record.recorded,
        damaged,
        ...(link !== null && { link }),
        ...(ridge?.packedBytes ? { type: 'packed' } : {}),
      }),
    );
  }
}
