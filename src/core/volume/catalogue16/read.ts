/**
 * 16-sector catalogue volumes, read and checked: a table of contents on track 17, lists of track
 * and sector pairs.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { BlockOwners, ProblemList, extentVolume, fileEntry, pathOf } from '../extent-volume';
import { inUnits } from '../own-units';
import { HOLE, type Extent, type Volume, type VolumeEntry } from '../volume';
import { contentOf, isLocked, nameOf, typeIn, typeName } from './content';
import type { CatalogueEvidence } from './probe';
import { bytesIn, numberIn } from '../record';
import {
  CONTENTS,
  CONTENTS_FIELDS,
  CONTENTS_TRACK,
  DELETED,
  ENTRY,
  ENTRY_FIELDS,
  FIRST_ENTRY,
  FIRST_PAIR,
  LAST_SECTOR,
  LINK,
  MOVED_TRACK,
  PAIRS,
  SECTOR,
  SECTORS,
  entriesIn,
  isWellFormed,
  trackMapAt,
} from './records';
import { said, type Said } from '@/core/said';

const MAX_LISTS = 64;

interface CatalogueEntries {
  live: { entry: Uint8Array; at: number }[];
  gone: { entry: Uint8Array; at: number }[];
}

type ChainDamage = 'loop' | 'out-of-range' | 'cross-linked';

interface Followed {
  name: string;
  owner: number | null;
  extents: Extent[];
  blocks: number[];
  damaged: boolean;
  /** Sectors that stand nowhere, since the last that does: at the end they are room. */
  unwritten: number;
}

class CatalogueReader {
  private readonly problems = new ProblemList();
  private readonly owners: BlockOwners;
  private readonly free: Uint8Array;
  private image = new Uint8Array(0);

  constructor(
    private readonly source: ByteSource,
    private readonly tracks: number,
    private readonly areContentsLost: boolean,
  ) {
    this.owners = new BlockOwners(tracks * 16);
    this.free = new Uint8Array(tracks * 16);
  }

  async open(): Promise<Volume> {
    const total = this.tracks * 16 * SECTOR;
    this.image = (await this.source.read(0, total)) as Uint8Array<ArrayBuffer>;
    if (this.image.length < total)
      this.problems.report(
        'truncated-image',
        this.image.length,
        said('catalogue16.theImageEndsAfter', { image: this.image.length, total }),
      );
    const contents = this.contents();
    const system = this.owners.owner(said('volume.theSystem'));
    for (let track = 0; track < 3; track++)
      for (let sector = 0; sector < 16; sector++)
        if (!this.isFreeIn(contents, track, sector)) this.owners.claim(track * 16 + sector, system);
    this.owners.claim(CONTENTS_TRACK * 16, system);
    for (let track = 0; track < this.tracks; track++)
      for (let sector = 0; sector < 16; sector++)
        this.free[track * 16 + sector] = Number(this.isFreeIn(contents, track, sector));
    const entries = this.readCatalogue(contents);
    this.checkMap();
    const freeSectors = this.free.reduce((sum, free) => sum + free, 0);
    return extentVolume(this.source, {
      filesystem: 'catalogue16',
      label: null,
      totalBytes: total,
      freeBytes: freeSectors * SECTOR,
      entries,
      problems: this.problems.all(),
    });
  }

  /** The table of contents; where it is lost, one that has no sector free. */
  private contents(): Uint8Array {
    if (!this.areContentsLost) return this.sector(CONTENTS_TRACK, 0)!;
    this.problems.report('descriptor-damaged', CONTENTS, said('catalogue16.theTableOfContentsIs'));
    const contents = new Uint8Array(SECTOR);
    contents.set([CONTENTS_TRACK, LAST_SECTOR], CONTENTS_FIELDS.catalogueSector.at);
    return contents;
  }

  private isFreeIn(contents: Uint8Array, track: number, sector: number): boolean {
    const at = trackMapAt(track);
    const bits = (contents[at]! << 8) | contents[at + 1]!;
    return ((bits >> sector) & 1) === 1;
  }

  private sector(track: number, sector: number): Uint8Array | null {
    if (track >= this.tracks || sector >= 16) return null;
    const at = (track * 16 + sector) * SECTOR;
    const bytes = this.image.subarray(at, at + SECTOR);
    return bytes.length === SECTOR ? bytes : null;
  }

  private readCatalogue(contents: Uint8Array): VolumeEntry[] {
    const owner = this.owners.owner(said('catalogue16.theCatalogue'));
    const found: CatalogueEntries = { live: [], gone: [] };
    const visited = this.followCatalogue(contents, owner, found);
    for (const block of this.strayCatalogue(visited)) {
      this.problems.report('directory-damaged', block * SECTOR, said('catalogue16.aSectorOfThe'));
      this.owners.claim(block, owner);
      this.addEntries(block, found);
    }
    return [
      ...found.live.map(({ entry, at }) => this.readFile(entry, at)),
      ...found.gone.map(({ entry, at }) => this.readDeleted(entry, at)),
    ];
  }

  /** The chain of the catalogue's sectors; gives those that it leads to. */
  private followCatalogue(
    contents: Uint8Array,
    owner: number,
    found: CatalogueEntries,
  ): Set<number> {
    const visited = new Set<number>();
    let [track = 0, sector = 0] = bytesIn(contents, CONTENTS_FIELDS.catalogueSector);
    while (track !== 0 || sector !== 0) {
      const block = track * 16 + sector;
      const bytes = this.sector(track, sector);
      if (!bytes) {
        this.problems.report(
          'directory-damaged',
          null,
          said('catalogue16.theCatalogueGoesOn', { track, sector }),
        );
        break;
      }
      if (visited.has(block)) {
        this.problems.report(
          'directory-loop',
          block * SECTOR,
          said('catalogue16.theCatalogueComesBack'),
        );
        break;
      }
      visited.add(block);
      this.owners.claim(block, owner);
      this.addEntries(block, found);
      [track = 0, sector = 0] = bytesIn(bytes, LINK.nextSector);
    }
    return visited;
  }

  private addEntries(block: number, { live, gone }: CatalogueEntries): void {
    const bytes = this.sector(block >> 4, block & 15)!;
    for (const [i, entry] of entriesIn(bytes).entries()) {
      if (entry[0] === 0) continue;
      const at = block * SECTOR + FIRST_ENTRY + i * ENTRY;
      (entry[0] === DELETED ? gone : live).push({ entry, at });
    }
  }

  /** Sectors of the catalogue's track that no chain leads to, and that list files that are there. */
  private strayCatalogue(visited: ReadonlySet<number>): number[] {
    const isProven = (entry: Uint8Array) => {
      const { blocks, damaged } = this.follow(entry[0]!, entry[1]!, '', null);
      return !damaged && blocks.length === numberIn(entry, ENTRY_FIELDS.sectors);
    };
    return Array.from({ length: LAST_SECTOR }, (_, i) => CONTENTS_TRACK * 16 + LAST_SECTOR - i)
      .filter((block) => !visited.has(block) && !this.owners.isOwned(block))
      .filter((block) => {
        const bytes = this.sector(block >> 4, block & 15);
        const used = bytes
          ? entriesIn(bytes).filter((entry) => entry[0] !== 0 && entry[0] !== DELETED)
          : [];
        return (
          used.every((entry) => isWellFormed(entry, this.tracks)) &&
          used.filter(isProven).length * 2 > used.length
        );
      });
  }

  /** Sectors of a file by its lists; without an owner nothing is claimed or reported. */
  private follow(track: number, sector: number, name: string, owner: number | null): Followed {
    const file: Followed = { name, owner, extents: [], blocks: [], damaged: false, unwritten: 0 };
    const visited = new Set<number>();
    for (let [t, s] = [track, sector]; t !== 0 || s !== 0;) {
      const block = t * 16 + s;
      const list = this.sector(t, s);
      if (!list) {
        this.damage(file, 'out-of-range', null, said('catalogue16.itsListGoesOn', { t, s }));
        break;
      }
      if (visited.has(block) || visited.size >= MAX_LISTS) {
        const what = said('catalogue16.itsListComesBack', { t, s });
        this.damage(file, 'loop', block * SECTOR, what);
        break;
      }
      visited.add(block);
      this.claim(file, block);
      for (let i = 0; i < PAIRS; i++) {
        const pair = FIRST_PAIR + i * 2;
        this.addPair(file, list[pair]!, list[pair + 1]!);
      }
      [t = 0, s = 0] = bytesIn(list, LINK.nextSector);
    }
    return file;
  }

  private damage(file: Followed, kind: ChainDamage, offset: number | null, what: Said): void {
    if (file.owner !== null)
      this.problems.report(kind, offset, said('volume.ofName', { name: file.name, what }));
    file.damaged = true;
  }

  private claim(file: Followed, block: number): void {
    const other = file.owner === null ? null : this.owners.claim(block, file.owner);
    if (other)
      this.damage(
        file,
        'cross-linked',
        block * SECTOR,
        said('catalogue16.itSharesTrackSector', { block: block >> 4, block2: block & 15, other }),
      );
    file.blocks.push(block);
  }

  /** One sector of a file's contents. */
  private addPair(file: Followed, t: number, s: number): void {
    if (t === 0 && s === 0) {
      file.unwritten++;
      return;
    }
    if (file.unwritten > 0) file.extents.push({ offset: HOLE, length: file.unwritten * SECTOR });
    file.unwritten = 0;
    if (!this.sector(t, s)) {
      this.damage(file, 'out-of-range', null, said('catalogue16.itGoesOnAt', { dt: t, ds: s }));
      file.extents.push({ offset: HOLE, length: SECTOR });
      return;
    }
    this.claim(file, t * 16 + s);
    file.extents.push({ offset: (t * 16 + s) * SECTOR, length: SECTOR });
  }

  private readFile(entry: Uint8Array, at: number): VolumeEntry {
    const recordedName = nameOf(bytesIn(entry, ENTRY_FIELDS.name));
    const path = pathOf([], recordedName, this.problems, at);
    const found = this.follow(entry[0]!, entry[1]!, recordedName, this.owners.owner(recordedName));
    const stated = numberIn(entry, ENTRY_FIELDS.sectors);
    if (!found.damaged && stated !== found.blocks.length)
      this.problems.report(
        stated > found.blocks.length ? 'chain-too-short' : 'chain-too-long',
        at,
        said('catalogue16.theCatalogueSaysSectors', {
          recordedName,
          stated,
          blocks: found.blocks.length,
        }),
      );
    return fileEntry({
      path,
      recordedName,
      ownSize: inUnits(stated, 'sector'),
      ...contentOf(this.image, typeIn(entry), found.extents),
      locked: isLocked(entry),
      damaged: found.damaged,
    });
  }

  private readDeleted(entry: Uint8Array, at: number): VolumeEntry {
    // The first list's track was moved into the last place of the name.
    const recordedName = nameOf(entry.subarray(ENTRY_FIELDS.name.at, MOVED_TRACK));
    const found = this.follow(entry[MOVED_TRACK]!, entry[1]!, recordedName, null);
    const left = found.blocks.filter(
      (block) => this.free[block] && !this.owners.isOwned(block),
    ).length;
    const recoverable =
      !found.damaged && left === found.blocks.length && left > 0
        ? 'whole'
        : left > 1 && this.free[entry[MOVED_TRACK]! * SECTORS + entry[1]!]
          ? 'partial'
          : 'none';
    const content =
      recoverable === 'none'
        ? { type: typeName(entry), bytes: 0, extents: [] }
        : contentOf(this.image, typeIn(entry), found.extents);
    return fileEntry({
      path: pathOf([], recordedName, this.problems, at),
      recordedName,
      ...content,
      locked: isLocked(entry),
      deleted: true,
      recoverable,
    });
  }

  private checkMap(): void {
    let used = 0;
    let lost = 0;
    for (let block = 0; block < this.tracks * 16; block++) {
      if (this.owners.isOwned(block) && this.free[block]) used++;
      else if (
        !this.owners.isOwned(block) &&
        !this.free[block] &&
        block >> 4 !== CONTENTS_TRACK &&
        block >= 16 * 3
      )
        lost++;
    }
    if (used > 0)
      this.problems.report('map-mismatch', null, said('volume.sectorsAreInUse', { used }));
    if (lost > 0)
      this.problems.report('lost-chain', null, said('volume.sectorsAreMarkedIn', { lost }));
  }
}

export const openCatalogue16 = (
  source: ByteSource,
  { tracks, areContentsLost }: CatalogueEvidence,
): Promise<Volume> => new CatalogueReader(source, tracks, areContentsLost).open();
