/**
 * Volumes of the `.d64` family, read and checked: chains of 256-byte sectors, an allocation map, a
 * directory of 32-byte entries.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  BlockOwners,
  ProblemList,
  extentVolume,
  fileEntry,
  joined,
  pathOf,
} from '../extent-volume';
import { inUnits } from '../own-units';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { blockOf, blocksIn, sectorsOfTrack, type D64Geometry } from './geometry';
import { nameOf } from './names';
import type { D64Evidence } from './probe';
import { SECTOR, PARTITION, ones } from './records';
import { said, type Said } from '@/core/said';

const DATA = 254;

const TYPES = ['DEL', 'SEQ', 'PRG', 'USR', 'REL', 'CBM'] as const;

const REL = 4;

const MAX_ENTRIES = 4096;

interface Chain {
  blocks: number[];
  extents: Extent[];
  bytes: number;
  damaged: boolean;
}

export async function openD64(source: ByteSource, { geometry }: D64Evidence): Promise<Volume> {
  return new D64Reader(source, geometry).open();
}

class D64Reader {
  private readonly problems = new ProblemList();
  private readonly owners: BlockOwners;
  private readonly blocks: number;
  private readonly free: Uint8Array;
  private image = new Uint8Array(0);

  constructor(
    private readonly source: ByteSource,
    private readonly geometry: D64Geometry,
  ) {
    this.blocks = blocksIn(geometry);
    this.owners = new BlockOwners(this.blocks);
    this.free = new Uint8Array(this.blocks);
  }

  async open(): Promise<Volume> {
    const { geometry, source, problems } = this;
    const wanted = this.blocks * SECTOR;
    // At most 800 KiB: held whole, so that no chain costs a read a sector.
    this.image = (await source.read(0, wanted)) as Uint8Array<ArrayBuffer>;
    if (this.image.length < wanted)
      problems.report(
        'truncated-image',
        this.image.length,
        said('d64.theImageEndsAfter', { image: this.image.length, wanted }),
      );
    const { kind, directoryTrack } = geometry;
    const header = this.sector(directoryTrack, 0) ?? new Uint8Array(SECTOR);
    this.readMap(header);
    this.claimSystem();
    const entries = this.readDirectory();
    this.checkMap();
    const label = nameOf(kind === 'd81' ? header.subarray(4, 20) : header.subarray(0x90, 0xa0))
      .replaceAll('\u00a0', ' ')
      .trimEnd();
    const freeBlocks = this.freeBlocks(geometry);
    return extentVolume(source, {
      filesystem: kind,
      label: label || null,
      totalBytes: wanted,
      freeBytes: freeBlocks * SECTOR,
      entries,
      problems: problems.all(),
    });
  }

  private freeBlocks(geometry: D64Geometry) {
    let freeBlocks = 0;
    for (let track = 1; track <= geometry.tracks; track++) {
      if (geometry.reserved.includes(track)) continue;
      for (let sector = 0; sector < sectorsOfTrack(geometry, track); sector++)
        freeBlocks += this.free[blockOf(geometry, track, sector)]!;
    }
    return freeBlocks;
  }

  private sector(track: number, sector: number): Uint8Array | null {
    const block = blockOf(this.geometry, track, sector);
    if (block < 0) return null;
    const bytes = this.image.subarray(block * SECTOR, block * SECTOR + SECTOR);
    return bytes.length === SECTOR ? bytes : null;
  }

  private mark(track: number, bitmap: Uint8Array, at: number): void {
    const count = sectorsOfTrack(this.geometry, track);
    let free = 0;
    for (let sector = 0; sector < count; sector++) {
      const isFree = ((bitmap[at + 1 + (sector >> 3)] ?? 0) >> (sector & 7)) & 1;
      this.free[blockOf(this.geometry, track, sector)] = isFree;
      free += isFree;
    }
    if (bitmap[at] !== free && bitmap[at] !== undefined)
      this.problems.report(
        'map-mismatch',
        null,
        said('d64.trackTheMapCounts', { track, bitmap: bitmap[at], free }),
      );
  }

  private readMap(header: Uint8Array): void {
    const { kind, tracks, directoryTrack } = this.geometry;
    if (kind === 'd81') {
      for (const [sector, first] of [
        [1, 1],
        [2, 41],
      ] as const) {
        const map = this.sector(directoryTrack, sector) ?? new Uint8Array(SECTOR);
        for (let i = 0; i < 40; i++) this.mark(first + i, map, 0x10 + i * 6);
      }
      return;
    }
    for (let track = 1; track <= 35; track++) this.mark(track, header, track * 4);
    if (kind === 'd71') {
      const second = this.sector(53, 0) ?? new Uint8Array(SECTOR);
      for (let i = 0; i < 35; i++) {
        const entry = Uint8Array.of(header[0xdd + i]!, ...second.subarray(i * 3, i * 3 + 3));
        this.mark(36 + i, entry, 0);
      }
    } else if (tracks > 35) {
      // Two systems that made 40-track disks keep the map of the rest in two places: the one whose
      // counts agree is taken.
      this.markBeyond35(header);
    }
  }

  private markBeyond35(header: Uint8Array) {
    const agrees = (at: number) =>
      [0, 1, 2, 3, 4].every(
        (i) =>
          header[at + i * 4] === ones(header.subarray(at + i * 4 + 1, at + i * 4 + 4)) &&
          header[at + i * 4]! <= 17,
      );
    const at =
      agrees(0xac) && header.subarray(0xac, 0xc0).some((byte) => byte !== 0)
        ? 0xac
        : agrees(0xc0)
          ? 0xc0
          : null;
    if (at !== null) for (let i = 0; i < 5; i++) this.mark(36 + i, header, at + i * 4);
  }

  /** Map and header sectors belong to the system; of a second side its whole middle track does. */
  private claimSystem(): void {
    const { kind, directoryTrack } = this.geometry;
    const system = this.owners.owner(said('volume.theSystem'));
    for (const sector of kind === 'd81' ? [0, 1, 2] : [0])
      this.owners.claim(blockOf(this.geometry, directoryTrack, sector), system);
    if (kind === 'd71')
      for (let sector = 0; sector < 19; sector++)
        this.owners.claim(blockOf(this.geometry, 53, sector), system);
  }

  private readDirectory(): VolumeEntry[] {
    const { directoryTrack, directorySector } = this.geometry;
    const owner = this.owners.owner(said('volume.theDirectory'));
    const visited = new Set<number>();
    const live: { entry: Uint8Array; at: number }[] = [];
    const erased: typeof live = [];
    let [track, sector] = [directoryTrack, directorySector];
    while (track !== 0) {
      const block = blockOf(this.geometry, track, sector);
      const bytes = this.sector(track, sector);
      if (!bytes) {
        this.problems.report(
          'directory-damaged',
          null,
          said('d64.theDirectoryGoesOn', { track, sector }),
        );
        break;
      }
      if (visited.has(block)) {
        this.problems.report('directory-loop', block * SECTOR, said('d64.theDirectorysChainComes'));
        break;
      }
      visited.add(block);
      this.owners.claim(block, owner);
      for (let i = 0; i < 8 && live.length + erased.length < MAX_ENTRIES; i++) {
        const entry = bytes.subarray(i * 32, i * 32 + 32);
        if (entry[2] !== 0) live.push({ entry, at: block * SECTOR + i * 32 });
        else if (entry[3] !== 0 && entry.subarray(5, 21).some((byte) => byte !== 0))
          erased.push({ entry, at: block * SECTOR + i * 32 });
      }
      [track, sector] = [bytes[0]!, bytes[1]!];
    }
    // Erased ones last: what still belongs to a file is known by then.
    const files = live.map(({ entry, at }) => this.liveEntry(entry, at));
    return [...files, ...erased.flatMap(({ entry, at }) => this.erasedEntry(entry, at))];
  }

  private liveEntry(entry: Uint8Array, at: number): VolumeEntry {
    const recordedName = nameOf(entry.subarray(5, 21));
    const kind = entry[2]! & 0x0f;
    const path = pathOf([], recordedName, this.problems, at);
    const stated = entry[0x1e]! | (entry[0x1f]! << 8);
    const common = {
      path,
      recordedName,
      type: TYPES[kind] ?? String(kind),
      ownSize: inUnits(stated, 'block'),
      locked: (entry[2]! & 0x40) !== 0,
    };
    if (kind === 0) return fileEntry({ ...common, bytes: 0, extents: [] });
    const owner = this.owners.owner(recordedName);
    if (kind === PARTITION && this.geometry.kind === 'd81')
      return this.partition(entry, stated, common, owner);
    const chain = this.follow(entry[3]!, entry[4]!, recordedName, owner);
    let side = 0;
    if (kind === REL && entry[0x15] !== 0)
      side = this.sideSectors(entry[0x15]!, entry[0x16]!, recordedName, owner);
    const blocks = chain.blocks.length + side;
    if (!chain.damaged && stated !== blocks)
      this.problems.report(
        stated > blocks ? 'chain-too-short' : 'chain-too-long',
        at,
        said('d64.theDirectorySaysBlocks', { recordedName, stated, blocks }),
      );
    return fileEntry({
      ...common,
      bytes: chain.bytes,
      extents: joined(chain.extents),
      damaged: chain.damaged,
    });
  }

  /** A run of sectors with no links. */
  private partition(
    entry: Uint8Array,
    blocks: number,
    common: Pick<VolumeEntry, 'path' | 'recordedName' | 'type' | 'ownSize' | 'locked'>,
    owner: number,
  ): VolumeEntry {
    const start = blockOf(this.geometry, entry[3]!, entry[4]!);
    const there = start < 0 ? 0 : Math.min(blocks, this.blocks - start);
    for (let i = 0; i < there; i++) this.owners.claim(start + i, owner);
    if (there < blocks)
      this.problems.report(
        'out-of-range',
        null,
        said('d64.thePartitionLeavesThe', { recordedName: common.recordedName }),
      );
    return fileEntry({
      ...common,
      bytes: there * SECTOR,
      extents: there > 0 ? [{ offset: start * SECTOR, length: there * SECTOR }] : [],
      damaged: there < blocks,
    });
  }

  /** Side sectors, and super side sectors before them, belong to a record file. */
  private sideSectors(track: number, sector: number, name: string, owner: number): number {
    const visited = new Set<number>();
    const pending: [number, number][] = [[track, sector]];
    while (pending.length > 0) {
      const [t, s] = pending.pop()!;
      const block = blockOf(this.geometry, t, s);
      const bytes = this.sector(t, s);
      if (!bytes) {
        this.problems.report('out-of-range', null, said('d64.aSideSectorLies', { name, t, s }));
        break;
      }
      if (visited.has(block)) continue;
      visited.add(block);
      const other = this.owners.claim(block, owner);
      if (other)
        this.problems.report(
          'cross-linked',
          block * SECTOR,
          said('d64.andShareTrackSector', { name, other, t, s }),
        );
      if (bytes[2] === 0xfe)
        for (let i = 0; i < 126; i++)
          if (bytes[3 + i * 2] !== 0) pending.push([bytes[3 + i * 2]!, bytes[4 + i * 2]!]);
      if (bytes[0] !== 0) pending.push([bytes[0]!, bytes[1]!]);
    }
    return visited.size;
  }

  /** Follows a file's links; with an owner it claims them and reports what is wrong. */
  private follow(track: number, sector: number, name: string, owner: number | null): Chain {
    const chain: Chain = { blocks: [], extents: [], bytes: 0, damaged: false };
    const visited = new Set<number>();
    const fail = (
      kind: 'loop' | 'out-of-range' | 'cross-linked',
      offset: number | null,
      what: Said,
    ) => {
      if (owner !== null) this.problems.report(kind, offset, said('volume.ofName', { name, what }));
      chain.damaged = true;
    };
    for (let [t, s] = [track, sector]; t !== 0;) {
      const block = blockOf(this.geometry, t, s);
      if (block < 0) {
        fail('out-of-range', null, said('d64.itsChainGoesOn', { t, s }));
        break;
      }
      if (visited.has(block)) {
        fail('loop', block * SECTOR, said('d64.itsChainComesBack', { t, s }));
        break;
      }
      const bytes = this.sector(t, s);
      if (!bytes) {
        fail('out-of-range', block * SECTOR, said('d64.itsChainGoesOnAt', { t, s }));
        break;
      }
      visited.add(block);
      const other = owner === null ? null : this.owners.claim(block, owner);
      if (other)
        fail('cross-linked', block * SECTOR, said('d64.itSharesTrackSector', { t, s, other }));
      const last = bytes[0] === 0;
      const length = last ? Math.max(0, bytes[1]! - 1) : DATA;
      chain.blocks.push(block);
      chain.extents.push({ offset: block * SECTOR + 2, length });
      chain.bytes += length;
      [t, s] = [bytes[0]!, bytes[1]!];
    }
    return chain;
  }

  private erasedEntry(entry: Uint8Array, at: number): VolumeEntry[] {
    const recordedName = nameOf(entry.subarray(5, 21));
    const chain = this.follow(entry[3]!, entry[4]!, recordedName, null);
    const stated = entry[0x1e]! | (entry[0x1f]! << 8);
    const intact = this.intactBlocks(chain);
    const whole =
      !chain.damaged &&
      intact === chain.blocks.length &&
      intact > 0 &&
      (stated === 0 || stated >= intact);
    const extents = chain.extents.slice(0, intact);
    const recoverable = whole
      ? ('whole' as const)
      : intact > 0
        ? ('partial' as const)
        : ('none' as const);
    return [
      fileEntry({
        path: pathOf([], recordedName, this.problems, at),
        recordedName,
        deleted: true,
        recoverable,
        extents: joined(extents),
        bytes: extents.reduce((sum, { length }) => sum + length, 0),
      }),
    ];
  }

  private intactBlocks(chain: Chain) {
    let intact = 0;
    while (
      intact < chain.blocks.length &&
      this.free[chain.blocks[intact]!] &&
      !this.owners.isOwned(chain.blocks[intact]!)
    )
      intact++;
    return intact;
  }

  private checkMap(): void {
    let used = 0;
    let lost = 0;
    for (let track = 1; track <= this.geometry.tracks; track++) {
      for (let sector = 0; sector < sectorsOfTrack(this.geometry, track); sector++) {
        const block = blockOf(this.geometry, track, sector);
        if (this.owners.isOwned(block) && this.free[block]) used++;
        // Tracks without a map of their own, and the directory's, are left as they are.
        else if (
          !this.owners.isOwned(block) &&
          !this.free[block] &&
          track !== this.geometry.directoryTrack &&
          track <= (this.geometry.kind === 'd64' ? 35 : this.geometry.tracks) &&
          block * SECTOR < this.image.length
        )
          lost++;
      }
    }
    if (used > 0)
      this.problems.report('map-mismatch', null, said('volume.sectorsAreInUse', { used }));
    if (lost > 0)
      this.problems.report('lost-chain', null, said('volume.sectorsAreMarkedIn', { lost }));
  }
}
