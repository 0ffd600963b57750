/**
 * UDF discs (ECMA-167, OSTA UDF 1.02 to 2.01): read by the anchor, its volume descriptors, file
 * sets, entries and allocations.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  collect,
  HOLE,
  streamExtents,
  type Extent,
  type Volume,
  type VolumeEntry,
} from '../volume';
import {
  extentVolume,
  fileEntry,
  joined,
  pathOf,
  ProblemList,
  tellLongName,
} from '../extent-volume';
import {
  dstring,
  longAddress,
  readTag,
  TAG,
  timestampOf,
  unicodeOf,
  type LongAddress,
} from './tags';
import { anchorPlaces, findAnchor } from './probe';
import { SECTOR, viewOf, ascii } from './records';
import type { ProblemKind } from '@/core/problems';
import { said, type Said, type Words } from '@/core/said';

const LIMITS = {
  descriptors: 256,
  entries: 400_000,
  depth: 64,
  directoryBytes: 16 << 20,
  allocations: 100_000,
  continuations: 1024,
};

const RECORDED = 0;

const GOES_ON = 3;

const DIRECTORY = 4;

const SYMBOLIC_LINK = 12;

interface Partition {
  start: number;
  blocks: number;
}

interface Entry {
  fileType: number;
  bytes: number;
  extents: Extent[];
  modified: string | null;
  short: boolean;
}

class Reader {
  readonly entries: VolumeEntry[] = [];
  private readonly partitions = new Map<number, Partition>();
  /**
   * Which partition a reference means, in the order of the logical volume's maps; null where its
   * kind is not read here.
   */
  private readonly maps: (number | null)[] = [];
  private blockBytes = SECTOR;
  private readonly entered = new Set<string>();
  private count = 0;
  label: string | null = null;

  constructor(
    private readonly source: ByteSource,
    private readonly problems: ProblemList,
  ) {}

  /** The logical volume's descriptors; gives the place of its file set. */
  async descriptors({ offset, length }: Extent): Promise<LongAddress | null> {
    let fileSet: LongAddress | null = null;
    let [at, end] = [offset, offset + Math.min(length, LIMITS.descriptors * SECTOR)];
    for (let count = 0; at < end && count < LIMITS.descriptors; count++, at += SECTOR) {
      const bytes = await this.source.read(at, SECTOR);
      const tag = readTag(bytes, at / SECTOR, at, this.problems);
      if (!tag?.sound || tag.id === TAG.end || bytes.length < SECTOR) {
        if (tag && !tag.sound) continue;
        break;
      }
      const view = viewOf(bytes);
      if (tag.id === TAG.pointer) {
        at = view.getUint32(24, true) * SECTOR - SECTOR;
        end = at + SECTOR + Math.min(view.getUint32(20, true), LIMITS.descriptors * SECTOR);
      } else if (tag.id === TAG.partition)
        this.partitions.set(view.getUint16(22, true), {
          start: view.getUint32(188, true),
          blocks: view.getUint32(192, true),
        });
      else if (tag.id === TAG.logicalVolume) {
        this.label = dstring(bytes.subarray(84, 212)) || null;
        const size = view.getUint32(212, true);
        if ([512, 1024, 2048, 4096].includes(size)) this.blockBytes = size;
        fileSet = longAddress(view, 248);
        this.readMaps(bytes, view.getUint32(268, true));
      }
    }
    return fileSet;
  }

  private readMaps(bytes: Uint8Array, count: number): void {
    this.maps.length = 0;
    for (
      let at = 440, i = 0;
      i < count && at + 2 <= bytes.length && bytes[at + 1]! >= 6;
      i++, at += bytes[at + 1]!
    ) {
      const view = viewOf(bytes);
      const name = ascii(bytes.subarray(at + 5, at + 28));
      if (bytes[at] === 1) this.maps.push(view.getUint16(at + 4, true));
      // Spare packets lie in the same partition; those that were moved are read where they were,
      // and fail their check.
      else if (bytes[at] === 2 && name.startsWith('*UDF Sparable Partition'))
        this.maps.push(view.getUint16(at + 38, true));
      else {
        this.maps.push(null);
        this.problems.report(
          'descriptor-damaged',
          null,
          said('udf.aPartitionMapOf', {
            name: name.replace(/[^\x20-\x7e]/g, '') || `type ${bytes[at]}`,
          }),
        );
      }
    }
  }

  /** The place of a block of a partition; null where there is none. */
  private place({ block, partition }: Pick<LongAddress, 'block' | 'partition'>): number | null {
    const number = this.maps[partition];
    const own = number === null || number === undefined ? undefined : this.partitions.get(number);
    if (!own || block >= own.blocks) return null;
    const at = own.start * SECTOR + block * this.blockBytes;
    return at < this.source.size ? at : null;
  }

  async root(fileSet: LongAddress): Promise<LongAddress | null> {
    const at = this.place(fileSet);
    if (at === null) return null;
    const bytes = await this.source.read(at, this.blockBytes);
    const tag = readTag(bytes, fileSet.block, at, this.problems);
    return tag?.id === TAG.fileSet && tag.sound && bytes.length >= 416
      ? longAddress(viewOf(bytes), 400)
      : null;
  }

  /** A file entry or an extended one, with where its bytes lie. */
  private async entry(address: LongAddress): Promise<Entry | null> {
    const at = this.place(address);
    if (at === null) return null;
    const bytes = await this.source.read(at, this.blockBytes);
    const tag = readTag(bytes, address.block, at, this.problems);
    if (
      !tag?.sound ||
      (tag.id !== TAG.fileEntry && tag.id !== TAG.extendedFileEntry) ||
      bytes.length < 216
    )
      return null;
    const view = viewOf(bytes);
    const extended = tag.id === TAG.extendedFileEntry;
    const size = Number(view.getBigUint64(56, true));
    const [attributes, allocations] = [
      view.getUint32(extended ? 208 : 168, true),
      view.getUint32(extended ? 212 : 172, true),
    ];
    const from = (extended ? 216 : 176) + attributes;
    const kind = view.getUint16(34, true) & 7;
    const modified = timestampOf(bytes.subarray(extended ? 92 : 84, extended ? 104 : 96));
    const base = { fileType: bytes[27]!, bytes: size, modified };
    if (kind === 3) {
      const length = Math.max(0, Math.min(size, allocations, bytes.length - from));
      return {
        ...base,
        extents: length > 0 ? [{ offset: at + from, length }] : [],
        short: length < size,
      };
    }
    const extents = await this.allocations(
      bytes.subarray(from, Math.min(bytes.length, from + allocations)),
      kind,
      address.partition,
      size,
    );
    return { ...base, ...extents };
  }

  /** Extents of a file: recorded ones, and zeros for what is allocated only, or neither. */
  private async allocations(
    area: Uint8Array,
    kind: number,
    partition: number,
    size: number,
  ): Promise<{ extents: Extent[]; short: boolean }> {
    const extents: Extent[] = [];
    let [done, short] = [0, false];
    const step = kind === 0 ? 8 : kind === 1 ? 16 : 20;
    let list = area;
    const visited = new Set<number>();
    for (let areas = 0, count = 0; areas < LIMITS.continuations; areas++) {
      let next: number | null = null;
      for (
        let at = 0;
        at + step <= list.length && done < size && count < LIMITS.allocations;
        at += step, count++
      ) {
        const address: LongAddress = allocationAt(list, at, kind, partition);
        if (address.length === 0) break;
        const place = this.place(address);
        if (address.kind === GOES_ON) {
          next = place;
          break;
        }
        const wanted = Math.min(address.length, size - done);
        short = this.addAllocated(address, extents, wanted, place, short);
        done += wanted;
        if (short) return { extents, short };
      }
      if (next === null || visited.has(next)) break;
      visited.add(next);
      const bytes = await this.source.read(next, this.blockBytes);
      const tag = readTag(bytes, null, next, this.problems);
      if (tag?.id !== TAG.allocationExtent || !tag.sound) break;
      list = bytes.subarray(
        24,
        24 + Math.min(viewOf(bytes).getUint32(20, true), bytes.length - 24),
      );
    }
    return { extents: joined(extents), short: short || done < size };
  }

  private addAllocated(
    address: LongAddress,
    extents: Extent[],
    wanted: number,
    place: number | null,
    short: boolean,
  ) {
    if (address.kind !== RECORDED) extents.push({ offset: HOLE, length: wanted });
    else if (place === null) short = true;
    else {
      const there = Math.min(wanted, Math.max(0, this.source.size - place));
      if (there > 0) extents.push({ offset: place, length: there });
      if (there < wanted) short = true;
    }
    return short;
  }

  async directory(address: LongAddress, folders: readonly string[]): Promise<void> {
    const place = folders.join('/') || said('volume.theRootDirectory');
    const own = await this.enter(address, folders.length, place);
    if (!own) return;
    const { extents } = own;
    const wanted = { extents, bytes: Math.min(own.bytes, LIMITS.directoryBytes) };
    const bytes = await collect(streamExtents(this.source, wanted));
    const first = extents.find(({ offset }) => offset >= 0)?.offset ?? null;
    for (const each of this.identifiers(bytes, first, place)) {
      if (++this.count > LIMITS.entries)
        return this.problems.report(
          'too-many-entries',
          each.offset,
          said('volume.moreThanEntriesThe', { entries: LIMITS.entries }),
        );
      await this.named(each.icb, each.name, each, folders, each.offset);
    }
  }

  /** The entry of a directory that was not entered before; null where it can't be. */
  private async enter(address: LongAddress, depth: number, place: Words): Promise<Entry | null> {
    const at = this.place(address);
    const refuse = (kind: ProblemKind, where: number | null, what: Said) => {
      this.problems.report(kind, where, what);
      return null;
    };
    const key = `${address.partition}/${address.block}`;
    if (this.entered.has(key))
      return refuse('directory-loop', at, said('volume.leadsBackToA', { place }));
    if (depth > LIMITS.depth)
      return refuse(
        'too-many-entries',
        null,
        said('volume.liesDeeperThanFolders', { place, depth: LIMITS.depth }),
      );
    this.entered.add(key);
    const own = await this.entry(address);
    if (!own || own.fileType !== DIRECTORY)
      return refuse('directory-damaged', at, said('udf.hasNoEntryThat', { place }));
    if (own.short)
      this.problems.report('udf-allocation-short', at, said('udf.hasFewerBytesThan', { place }));
    return own;
  }

  /** The identifiers of a directory, without that of the one above it, which has no name. */
  private *identifiers(bytes: Uint8Array, first: number | null, place: Words) {
    for (let at = 0; at + 38 <= bytes.length;) {
      const view = viewOf(bytes);
      const [nameLength, useLength] = [bytes[at + 19]!, view.getUint16(at + 36, true)];
      const length = (38 + nameLength + useLength + 3) & ~3;
      const offset = first === null ? null : first + at;
      const own = bytes.subarray(at, at + length);
      const tag = own.length === length ? readTag(own, null, offset ?? 0, this.problems) : null;
      if (tag?.id !== TAG.fileIdentifier || !tag.sound) {
        if (bytes.subarray(at).some((byte) => byte !== 0))
          this.problems.report('directory-damaged', offset, said('udf.anEntryOfMakes', { place }));
        return;
      }
      const flags = bytes[at + 18]!;
      const icb = longAddress(view, at + 20);
      const name = unicodeOf(own.subarray(38 + useLength, 38 + useLength + nameLength));
      at += length;
      if (flags & 8) continue;
      yield { icb, name, offset, deleted: (flags & 4) !== 0, isDirectory: (flags & 2) !== 0 };
    }
  }

  private async named(
    icb: LongAddress,
    name: string,
    { deleted, isDirectory }: { deleted: boolean; isDirectory: boolean },
    folders: readonly string[],
    offset: number | null,
  ): Promise<void> {
    const path = pathOf(folders, name || 'unnamed', this.problems, offset);
    tellLongName(name, this.problems, offset);
    const common = { path, recordedName: name };
    if (deleted) {
      // Its name stays when its space is given up; whether it was used anew is not known here.
      await this.addDeleted(icb, isDirectory, common);
      return;
    }
    if (isDirectory) {
      await this.addFolder(icb, common, folders, path);
      return;
    }
    return this.addFile(icb, offset, path, common);
  }

  private async addDeleted(
    icb: LongAddress,
    isDirectory: boolean,
    common: { path: string; recordedName: string },
  ) {
    const left = icb.length > 0 && !isDirectory ? await this.entry(icb) : null;
    this.entries.push(
      fileEntry({
        ...common,
        kind: isDirectory ? 'directory' : 'file',
        bytes: left?.bytes ?? 0,
        extents: left?.extents ?? [],
        modified: left?.modified ?? null,
        deleted: true,
        recoverable: left ? 'partial' : 'none',
      }),
    );
  }

  private async addFolder(
    icb: LongAddress,
    common: { path: string; recordedName: string },
    folders: readonly string[],
    path: string,
  ) {
    const own = await this.entry(icb);
    this.entries.push(
      fileEntry({
        ...common,
        kind: 'directory',
        bytes: 0,
        extents: [],
        modified: own?.modified ?? null,
      }),
    );
    await this.directory(icb, [...folders, path.split('/').pop()!]);
  }

  private async addFile(
    icb: LongAddress,
    offset: number | null,
    path: string,
    common: { path: string; recordedName: string },
  ): Promise<void | PromiseLike<void>> {
    const own = await this.entry(icb);
    if (!own) {
      this.problems.report('directory-damaged', offset, said('udf.hasNoEntryThatCould', { path }));
      this.entries.push(fileEntry({ ...common, bytes: 0, extents: [], damaged: true }));
      return;
    }
    if (own.short)
      this.problems.report(
        'udf-allocation-short',
        offset,
        said('udf.shouldHaveBytesFewer', { path, bytes: own.bytes }),
      );
    this.entries.push(
      fileEntry({
        ...common,
        bytes: own.bytes,
        extents: own.extents,
        modified: own.modified,
        damaged: own.short,
        ...(own.fileType === SYMBOLIC_LINK && { type: 'link' }),
      }),
    );
  }
}

function allocationAt(list: Uint8Array, at: number, kind: number, partition: number) {
  const view = viewOf(list);
  const length = view.getUint32(at, true);
  const address: LongAddress =
    kind === 1
      ? longAddress(view, at)
      : {
          length: length & 0x3fffffff,
          kind: length >>> 30,
          block: view.getUint32(at + (kind === 0 ? 4 : 12), true),
          partition: kind === 0 ? partition : view.getUint16(at + 16, true),
        };
  return address;
}

export async function openUdf(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const anchor = await findAnchor(source);
  const empty = (what: Said) => {
    problems.report('udf-anchor-missing', null, what);
    return extentVolume(source, {
      filesystem: 'udf',
      label: null,
      totalBytes: source.size,
      freeBytes: 0,
      entries: [],
      problems: problems.all(),
    });
  };
  if (!anchor) return empty(said('udf.noAnchorStandsAt'));
  for (const sector of anchorPlaces(source.size).slice(0, 1))
    if (anchor.at !== sector * SECTOR)
      problems.report(
        'udf-anchor-missing',
        sector * SECTOR,
        said('udf.theAnchorAtSector', { sector, at: anchor.at / SECTOR }),
      );
  const { fileSet, reader } = await readDescriptors(source, problems, anchor);
  const root = fileSet && (await reader.root(fileSet));
  if (!root) {
    problems.report('descriptor-damaged', anchor.at, said('udf.theDescriptorsDoNot'));
    return extentVolume(source, {
      filesystem: 'udf',
      label: reader.label,
      totalBytes: source.size,
      freeBytes: 0,
      entries: [],
      problems: problems.all(),
    });
  }
  await reader.directory(root, []);
  return extentVolume(source, {
    filesystem: 'udf',
    label: reader.label,
    totalBytes: source.size,
    freeBytes: 0,
    entries: reader.entries,
    problems: problems.all(),
  });
}

async function readDescriptors(
  source: ByteSource,
  problems: ProblemList,
  anchor: { at: number; main: Extent; reserve: Extent },
) {
  let reader = new Reader(source, problems);
  let fileSet = await reader.descriptors(anchor.main);
  if (!fileSet) {
    // Everything stands twice.
    reader = new Reader(source, problems);
    fileSet = await reader.descriptors(anchor.reserve);
    if (fileSet)
      problems.report('descriptor-damaged', anchor.main.offset, said('udf.theFirstSequenceOf'));
  }
  return { fileSet, reader };
}
