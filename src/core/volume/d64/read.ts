/**
 * Volumes of the `.d64` family, read and checked: chains of 256-byte sectors, an allocation map, a
 * directory of 32-byte entries.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { ProblemList, extentVolume, fileEntry, pathOf } from '../extent-volume';
import { joined } from '../extents';
import { inUnits } from '../own-units';
import { bytesIn, numberIn } from '../record';
import type { Volume, VolumeEntry } from '../volume';
import { D64Sectors, type Chain } from './chains';
import {
  SECOND_SIDE_TRACK,
  SECTOR,
  blockOf,
  blocksIn,
  sectorsOfTrack,
  type D64Geometry,
} from './geometry';
import { D64Map } from './map';
import { nameOf } from './names';
import type { D64Evidence } from './probe';
import {
  CLOSED,
  ENTRY,
  ENTRY_FIELDS,
  FORMAT_BYTES,
  LOCKED,
  PARTITION,
  PER_SECTOR,
  REL,
  TYPES,
  labelFieldOf,
  typeIn,
} from './records';
import { strayDirectory } from './stray-directory';
import { said } from '@/core/said';

const MAX_ENTRIES = 4096;

/** An entry of the directory and the byte it begins at. */
interface Placed {
  entry: Uint8Array;
  at: number;
}

type Listed = Pick<VolumeEntry, 'path' | 'recordedName' | 'type' | 'ownSize' | 'locked'>;

export async function openD64(source: ByteSource, { geometry }: D64Evidence): Promise<Volume> {
  const problems = new ProblemList();
  const wanted = blocksIn(geometry) * SECTOR;
  // At most 800 KiB: held whole, so that no chain costs a read a sector.
  const image = await source.read(0, wanted);
  if (image.length < wanted)
    problems.report(
      'truncated-image',
      image.length,
      said('d64.theImageEndsAfter', { image: image.length, wanted }),
    );
  const sectors = new D64Sectors(image, geometry, problems);
  const header = sectors.read(geometry.directoryTrack, 0) ?? new Uint8Array(SECTOR);
  tellHeader(header, geometry, problems);
  const map = new D64Map(sectors, problems);
  map.read(header);
  const entries = new D64Reader(sectors, map, geometry, problems).read();
  map.check();
  const label = nameOf(bytesIn(header, labelFieldOf(geometry.kind)));
  return extentVolume(source, {
    filesystem: geometry.kind,
    label: label.replaceAll('\u00a0', ' ').trimEnd() || null,
    totalBytes: wanted,
    freeBytes: map.countFree() * SECTOR,
    entries,
    problems: problems.all(),
  });
}

/** A header that is none leaves the disk without a name and, of one side, without a map. */
function tellHeader(header: Uint8Array, geometry: D64Geometry, problems: ProblemList): void {
  const { directoryTrack, kind } = geometry;
  if (header[0] !== directoryTrack && header[2] !== FORMAT_BYTES[kind])
    problems.report(
      'descriptor-damaged',
      blockOf(geometry, directoryTrack, 0) * SECTOR,
      said('d64.theHeaderIsNo'),
    );
}

/** Map and header sectors belong to the system; of a second side its whole middle track does. */
function systemBlocks(geometry: D64Geometry): number[] {
  const { kind, directoryTrack } = geometry;
  const own = (kind === 'd81' ? [0, 1, 2] : [0]).map((sector) =>
    blockOf(geometry, directoryTrack, sector),
  );
  if (kind !== 'd71') return own;
  const count = sectorsOfTrack(geometry, SECOND_SIDE_TRACK);
  const middle = Array.from({ length: count }, (_, i) => blockOf(geometry, SECOND_SIDE_TRACK, i));
  return [...own, ...middle];
}

class D64Reader {
  constructor(
    private readonly sectors: D64Sectors,
    private readonly map: D64Map,
    private readonly geometry: D64Geometry,
    private readonly problems: ProblemList,
  ) {}

  read(): VolumeEntry[] {
    const { owners } = this.sectors;
    const system = owners.owner(said('volume.theSystem'));
    for (const block of systemBlocks(this.geometry)) owners.claim(block, system);
    const { live, erased } = this.readDirectory();
    // Erased ones last: what still belongs to a file is known by then.
    const files = live.map((each) => this.liveEntry(each));
    return [...files, ...erased.map((each) => this.erasedEntry(each))];
  }

  private readDirectory(): { live: Placed[]; erased: Placed[] } {
    const { directoryTrack, directorySector } = this.geometry;
    const owner = this.sectors.owners.owner(said('volume.theDirectory'));
    const visited = new Set<number>();
    const found = { live: [] as Placed[], erased: [] as Placed[] };
    for (let [track, sector] = [directoryTrack, directorySector]; track !== 0;) {
      const block = blockOf(this.geometry, track, sector);
      const bytes = this.sectors.read(track, sector);
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
      this.sectors.owners.claim(block, owner);
      this.addEntries(bytes, block, found);
      [track, sector] = [bytes[0]!, bytes[1]!];
    }
    for (const block of strayDirectory(this.sectors, visited)) {
      this.problems.report('directory-damaged', block * SECTOR, said('d64.aSectorOfThe'));
      this.sectors.owners.claim(block, owner);
      this.addEntries(this.sectors.at(block), block, found);
    }
    return found;
  }

  private addEntries(
    bytes: Uint8Array,
    block: number,
    { live, erased }: { live: Placed[]; erased: Placed[] },
  ): void {
    for (let i = 0; i < PER_SECTOR && live.length + erased.length < MAX_ENTRIES; i++) {
      const entry = bytes.subarray(i * ENTRY, (i + 1) * ENTRY);
      const at = block * SECTOR + i * ENTRY;
      const wasUsed = entry[ENTRY_FIELDS.firstSector.at] !== 0;
      if (numberIn(entry, ENTRY_FIELDS.fileType) !== 0) live.push({ entry, at });
      else if (wasUsed && bytesIn(entry, ENTRY_FIELDS.name).some((byte) => byte !== 0))
        erased.push({ entry, at });
    }
  }

  private liveEntry({ entry, at }: Placed): VolumeEntry {
    const recordedName = nameOf(bytesIn(entry, ENTRY_FIELDS.name));
    const kind = typeIn(entry);
    const stated = numberIn(entry, ENTRY_FIELDS.blocks);
    const listed: Listed = {
      path: pathOf([], recordedName, this.problems, at),
      recordedName,
      type: TYPES[kind] ?? String(kind),
      ownSize: inUnits(stated, 'block'),
      locked: (numberIn(entry, ENTRY_FIELDS.fileType) & LOCKED) !== 0,
    };
    if (kind === 0) return fileEntry({ ...listed, bytes: 0, extents: [] });
    if ((numberIn(entry, ENTRY_FIELDS.fileType) & CLOSED) === 0)
      this.problems.report('not-closed-cleanly', at, said('d64.wasNotClosed', { recordedName }));
    const owner = this.sectors.owners.owner(recordedName);
    if (kind === PARTITION && this.geometry.kind === 'd81')
      return this.partition(entry, stated, listed, owner);
    const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.firstSector);
    const chain = this.sectors.follow(track, sector, recordedName, owner);
    const sides = kind === REL ? this.claimSides(entry, recordedName, owner) : 0;
    this.tellBlocks(chain, stated, sides, recordedName, at);
    const { bytes, extents, damaged } = chain;
    return fileEntry({ ...listed, bytes, extents: joined(extents), damaged });
  }

  private claimSides(entry: Uint8Array, name: string, owner: number): number {
    const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.sideSector);
    return track === 0 ? 0 : this.sectors.claimSides(track, sector, name, owner);
  }

  private tellBlocks(
    chain: Chain,
    stated: number,
    sides: number,
    recordedName: string,
    at: number,
  ): void {
    const blocks = chain.blocks.length + sides;
    if (!chain.damaged && stated !== blocks)
      this.problems.report(
        stated > blocks ? 'chain-too-short' : 'chain-too-long',
        at,
        said('d64.theDirectorySaysBlocks', { recordedName, stated, blocks }),
      );
  }

  /** A run of sectors with no links. */
  private partition(entry: Uint8Array, blocks: number, listed: Listed, owner: number): VolumeEntry {
    const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.firstSector);
    const start = blockOf(this.geometry, track, sector);
    const there = start < 0 ? 0 : Math.min(blocks, blocksIn(this.geometry) - start);
    for (let i = 0; i < there; i++) this.sectors.owners.claim(start + i, owner);
    if (there < blocks)
      this.problems.report(
        'out-of-range',
        null,
        said('d64.thePartitionLeavesThe', { recordedName: listed.recordedName }),
      );
    return fileEntry({
      ...listed,
      bytes: there * SECTOR,
      extents: there > 0 ? [{ offset: start * SECTOR, length: there * SECTOR }] : [],
      damaged: there < blocks,
    });
  }

  private erasedEntry({ entry, at }: Placed): VolumeEntry {
    const recordedName = nameOf(bytesIn(entry, ENTRY_FIELDS.name));
    const [track = 0, sector = 0] = bytesIn(entry, ENTRY_FIELDS.firstSector);
    const chain = this.sectors.follow(track, sector, recordedName, null);
    const stated = numberIn(entry, ENTRY_FIELDS.blocks);
    const intact = this.intactBlocks(chain);
    const isWhole =
      !chain.damaged &&
      intact === chain.blocks.length &&
      intact > 0 &&
      (stated === 0 || stated >= intact);
    const extents = chain.extents.slice(0, intact);
    return fileEntry({
      path: pathOf([], recordedName, this.problems, at),
      recordedName,
      deleted: true,
      recoverable: isWhole ? 'whole' : intact > 0 ? 'partial' : 'none',
      extents: joined(extents),
      bytes: extents.reduce((sum, { length }) => sum + length, 0),
    });
  }

  /** Blocks from the chain's start on that are still free. */
  private intactBlocks({ blocks }: Chain): number {
    const isGone = (block: number) => !this.map.isFree(block) || this.sectors.owners.isOwned(block);
    const first = blocks.findIndex(isGone);
    return first < 0 ? blocks.length : first;
  }
}
