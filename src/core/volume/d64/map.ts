/** The map of free sectors of a `.d64` volume, wherever its kind keeps it. */
import { said } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import {
  SECOND_SIDE_TRACK,
  SECTOR,
  SIDE_TRACKS,
  blockOf,
  blocksIn,
  sectorsOfTrack,
} from './geometry';
import type { D64Sectors } from './chains';
import {
  FIRST_TRACK_MAP_81,
  SECOND_SIDE_MAP_BYTES,
  TRACKS_A_MAP_81,
  TRACK_MAP_81_BYTES,
  TRACK_MAP_BYTES,
  TWO_SIDED_FIELDS,
  ones,
} from './records';

/** Two systems that made 40-track disks keep the map of the rest in two places. */
const BEYOND_35 = [0xac, 0xc0] as const;
const TRACKS_BEYOND_35 = 5;
const SECTORS_BEYOND_35 = 17;

export class D64Map {
  private readonly free: Uint8Array;

  constructor(
    private readonly sectors: D64Sectors,
    private readonly problems: ProblemList,
  ) {
    this.free = new Uint8Array(blocksIn(sectors.geometry));
  }

  isFree(block: number): boolean {
    return this.free[block] === 1;
  }

  read(header: Uint8Array): void {
    const { kind, tracks } = this.sectors.geometry;
    if (kind === 'd81') {
      this.readOf81(1, 1);
      this.readOf81(2, 1 + TRACKS_A_MAP_81);
      return;
    }
    for (let track = 1; track <= SIDE_TRACKS; track++)
      this.mark(track, header, track * TRACK_MAP_BYTES);
    if (kind === 'd71') this.readSecondSide(header);
    else if (tracks > SIDE_TRACKS) this.readBeyond35(header);
  }

  private mark(track: number, bitmap: Uint8Array, at: number): void {
    const { geometry } = this.sectors;
    const count = sectorsOfTrack(geometry, track);
    let free = 0;
    for (let sector = 0; sector < count; sector++) {
      const isFree = ((bitmap[at + 1 + (sector >> 3)] ?? 0) >> (sector & 7)) & 1;
      this.free[blockOf(geometry, track, sector)] = isFree;
      free += isFree;
    }
    if (bitmap[at] !== free && bitmap[at] !== undefined)
      this.problems.report(
        'map-mismatch',
        null,
        said('d64.trackTheMapCounts', { track, bitmap: bitmap[at], free }),
      );
  }

  private readOf81(sector: number, first: number): void {
    const { directoryTrack } = this.sectors.geometry;
    const map = this.sectors.read(directoryTrack, sector) ?? new Uint8Array(SECTOR);
    for (let i = 0; i < TRACKS_A_MAP_81; i++)
      this.mark(first + i, map, FIRST_TRACK_MAP_81 + i * TRACK_MAP_81_BYTES);
  }

  /** Its counts stand in the first side's header, its bits on a track of its own. */
  private readSecondSide(header: Uint8Array): void {
    const bits = this.sectors.read(SECOND_SIDE_TRACK, 0) ?? new Uint8Array(SECTOR);
    for (let i = 0; i < SIDE_TRACKS; i++) {
      const at = i * SECOND_SIDE_MAP_BYTES;
      const count = header[TWO_SIDED_FIELDS.freeOnSecondSide.at + i]!;
      const own = Uint8Array.of(count, ...bits.subarray(at, at + SECOND_SIDE_MAP_BYTES));
      this.mark(SIDE_TRACKS + 1 + i, own, 0);
    }
  }

  /** Of the two places the one is taken whose counts agree. */
  private readBeyond35(header: Uint8Array): void {
    const tracks = Array.from({ length: TRACKS_BEYOND_35 }, (_, i) => i * TRACK_MAP_BYTES);
    const agrees = (at: number) =>
      tracks.every(
        (track) =>
          header[at + track] === ones(header.subarray(at + track + 1, at + track + 4)) &&
          header[at + track]! <= SECTORS_BEYOND_35,
      );
    const [first, second] = BEYOND_35;
    const isFirstUsed = header.subarray(first, second).some((byte) => byte !== 0);
    const at = isFirstUsed && agrees(first) ? first : agrees(second) ? second : null;
    if (at === null) return;
    for (const [i, track] of tracks.entries()) this.mark(SIDE_TRACKS + 1 + i, header, at + track);
  }

  /** Sectors that are free and may be given to files. */
  countFree(): number {
    const { geometry } = this.sectors;
    let count = 0;
    for (let track = 1; track <= geometry.tracks; track++) {
      if (geometry.reserved.includes(track)) continue;
      for (let sector = 0; sector < sectorsOfTrack(geometry, track); sector++)
        count += this.free[blockOf(geometry, track, sector)]!;
    }
    return count;
  }

  /** Tracks without a map of their own, and the directory's, are left as they are. */
  private isKeptFor(track: number): boolean {
    const { kind, directoryTrack, tracks } = this.sectors.geometry;
    return track !== directoryTrack && track <= (kind === 'd64' ? SIDE_TRACKS : tracks);
  }

  /** What the map says against the chains, once all of them have been followed. */
  check(): void {
    const { geometry, owners, bytes } = this.sectors;
    let used = 0;
    let lost = 0;
    for (let track = 1; track <= geometry.tracks; track++) {
      const isKept = this.isKeptFor(track);
      for (let sector = 0; sector < sectorsOfTrack(geometry, track); sector++) {
        const block = blockOf(geometry, track, sector);
        const isOwned = owners.isOwned(block);
        if (isOwned && this.free[block]) used++;
        else if (!isOwned && !this.free[block] && isKept && block * SECTOR < bytes) lost++;
      }
    }
    if (used > 0)
      this.problems.report('map-mismatch', null, said('volume.sectorsAreInUse', { used }));
    if (lost > 0)
      this.problems.report('lost-chain', null, said('volume.sectorsAreMarkedIn', { lost }));
  }
}
