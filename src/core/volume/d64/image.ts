/**
 * Sectors of a `.d64` image that is written to, given as its own system gives them: the first on
 * the track nearest to the directory, each next one its interleave further on the same track.
 */
import { said } from '@/core/said';
import { VolumeRefusal } from '../writable';
import {
  SECOND_SIDE_TRACK,
  SECTOR,
  SIDE_TRACKS,
  blockOf,
  blocksIn,
  sectorsOfTrack,
  type D64Geometry,
  type D64Kind,
} from './geometry';
import {
  DATA,
  ENTRY,
  FIRST_TRACK_MAP_81,
  PER_SECTOR,
  SECOND_SIDE_MAP_BYTES,
  TRACKS_A_MAP_81,
  TRACK_MAP_81_BYTES,
  TRACK_MAP_BYTES,
  TWO_SIDED_FIELDS,
  sideLinks,
} from './records';

const INTERLEAVE: Readonly<Record<D64Kind, { file: number; directory: number }>> = Object.freeze({
  d64: { file: 10, directory: 3 },
  d71: { file: 6, directory: 3 },
  d81: { file: 1, directory: 1 },
});

export interface Place {
  track: number;
  sector: number;
}

export class D64Image {
  constructor(
    readonly bytes: Uint8Array,
    readonly geometry: D64Geometry,
  ) {}

  /** Byte at which a sector begins. */
  offset({ track, sector }: Place): number {
    const block = blockOf(this.geometry, track, sector);
    if (block < 0) throw new VolumeRefusal('damaged', said('d64.aLinkLeadsTo', { track, sector }));
    return block * SECTOR;
  }

  placeAt(at: number): Place {
    return { track: this.bytes[at]!, sector: this.bytes[at + 1]! };
  }

  /** Where a track's count of free sectors stands, and its bits. */
  private mapOf(track: number): { count: number; bits: number } {
    const { kind, directoryTrack } = this.geometry;
    if (kind === 'd81') {
      const sector = track > TRACKS_A_MAP_81 ? 2 : 1;
      const row = (track - 1) % TRACKS_A_MAP_81;
      const map = this.offset({ track: directoryTrack, sector });
      const count = map + FIRST_TRACK_MAP_81 + row * TRACK_MAP_81_BYTES;
      return { count, bits: count + 1 };
    }
    const header = this.offset({ track: directoryTrack, sector: 0 });
    if (kind === 'd71' && track > SIDE_TRACKS) {
      const row = track - SIDE_TRACKS - 1;
      const second = this.offset({ track: SECOND_SIDE_TRACK, sector: 0 });
      return {
        count: header + TWO_SIDED_FIELDS.freeOnSecondSide.at + row,
        bits: second + row * SECOND_SIDE_MAP_BYTES,
      };
    }
    return { count: header + track * TRACK_MAP_BYTES, bits: header + track * TRACK_MAP_BYTES + 1 };
  }

  freeOn(track: number): number {
    return this.bytes[this.mapOf(track).count]!;
  }

  isFree(track: number, sector: number): boolean {
    return ((this.bytes[this.mapOf(track).bits + (sector >> 3)]! >> (sector & 7)) & 1) === 1;
  }

  setFree({ track, sector }: Place, free: boolean): void {
    const { count, bits } = this.mapOf(track);
    const at = bits + (sector >> 3);
    const mask = 1 << (sector & 7);
    if (((this.bytes[at]! & mask) !== 0) === free) return;
    this.bytes[at] = free ? this.bytes[at]! | mask : this.bytes[at]! & ~mask;
    this.bytes[count] = this.bytes[count]! + (free ? 1 : -1);
  }

  /**
   * Tracks in the order in which a new file looks for its first sector: outward from the directory,
   * below before above; of a second side after the first.
   */
  private tracksByDistance(): number[] {
    const { kind, tracks, directoryTrack, reserved } = this.geometry;
    const side = kind === 'd71' ? SIDE_TRACKS : tracks;
    const order: number[] = [];
    for (let distance = 1; distance < side; distance++)
      for (const track of [directoryTrack - distance, directoryTrack + distance])
        if (track >= 1 && track <= side) order.push(track);
    const distance = (track: number) => Math.abs(track - SECOND_SIDE_TRACK);
    const second = order
      .map((track) => track + SIDE_TRACKS)
      .sort((a, b) => distance(a) - distance(b) || a - b);
    return [...order, ...(kind === 'd71' ? second : [])].filter(
      (track) => !reserved.includes(track),
    );
  }

  /**
   * On in the same direction, away from the directory; at the end the other side of it. A file's
   * first sector is on the nearest track that has room. Throws VolumeRefusal where nothing is free:
   * the map's counts say less than was asked for.
   */
  private nextTrack(order: readonly number[], track: number, isFirst: boolean): number {
    const below = track < this.geometry.directoryTrack;
    const hasRoom = (each: number) => this.freeOn(each) > 0;
    const onward = order
      .slice(order.indexOf(track) + 1)
      .find((each) => each < this.geometry.directoryTrack === below && hasRoom(each));
    const next = (isFirst ? undefined : onward) ?? order.find(hasRoom);
    if (next === undefined) throw new VolumeRefusal('damaged', said('volume.thisIsNoWhole'));
    return next;
  }

  /** The first free sector of a track from `from` on; 0 comes behind the last. */
  private freeSectorFrom(track: number, from: number): number {
    const sectors = sectorsOfTrack(this.geometry, track);
    for (let i = 0; i < sectors; i++) {
      const sector = (from + i) % sectors;
      if (this.isFree(track, sector)) return sector;
    }
    // Its count says that one is free, and its bits that none is.
    throw new VolumeRefusal('damaged', said('volume.thisIsNoWhole'));
  }

  /** Past the end it goes on from the start, one sector before where it would come. */
  private afterInterleave(track: number, sector: number): number {
    const { kind } = this.geometry;
    const sectors = sectorsOfTrack(this.geometry, track);
    const at = sector + INTERLEAVE[kind].file;
    return at < sectors ? at : Math.max(0, at - sectors - (kind === 'd81' ? 0 : 1));
  }

  /** Sectors for a file, in the order in which its own system gives them. */
  take(count: number): Place[] {
    const places: Place[] = [];
    const order = this.tracksByDistance();
    let track = order[0]!;
    let last = -1;
    while (places.length < count) {
      if (this.freeOn(track) === 0) {
        track = this.nextTrack(order, track, last < 0);
        last = -1;
      }
      const from = last < 0 ? 0 : this.afterInterleave(track, last);
      const sector = this.freeSectorFrom(track, from);
      this.setFree({ track, sector }, false);
      places.push({ track, sector });
      last = sector;
    }
    return places;
  }

  /** Fills the sectors with the bytes, each with the link to the next. */
  writeChain(places: readonly Place[], bytes: Uint8Array): void {
    for (const [i, place] of places.entries()) {
      const offset = this.offset(place);
      const piece = bytes.subarray(i * DATA, (i + 1) * DATA);
      const next = places[i + 1];
      this.bytes.fill(0, offset, offset + SECTOR);
      this.bytes.set(next ? [next.track, next.sector] : [0, piece.length + 1], offset);
      this.bytes.set(piece, offset + 2);
    }
  }

  chain(first: Place): Place[] {
    const places: Place[] = [];
    for (let place = first; place.track !== 0;) {
      const offset = this.offset(place);
      places.push(place);
      if (places.length > blocksIn(this.geometry))
        throw new VolumeRefusal('damaged', said('volume.aChainOfThis'));
      place = this.placeAt(offset);
    }
    return places;
  }

  release(first: Place): void {
    for (const place of this.chain(first)) this.setFree(place, true);
  }

  /** Side sectors of a record file, and the super side sector before them. */
  releaseSides(first: Place): void {
    const pending = [first];
    const visited = new Set<number>();
    while (pending.length > 0) {
      const place = pending.pop()!;
      const offset = this.offset(place);
      if (visited.has(offset)) continue;
      visited.add(offset);
      this.setFree(place, true);
      const links = sideLinks(this.bytes.subarray(offset, offset + SECTOR));
      pending.push(...links.map(([track, sector]) => ({ track, sector })));
    }
  }

  private get directory(): Place {
    const { directoryTrack: track, directorySector: sector } = this.geometry;
    return { track, sector };
  }

  /** Byte offsets of directory entries, in order. */
  *entries(): Generator<number> {
    for (const place of this.chain(this.directory))
      for (let i = 0; i < PER_SECTOR; i++) yield this.offset(place) + i * ENTRY;
  }

  /** One sector more for the directory, on its own track; gives the place of its first entry. */
  growDirectory(): number {
    const { directoryTrack: track, kind } = this.geometry;
    if (this.freeOn(track) === 0)
      throw new VolumeRefusal('directory-full', said('d64.theDirectoryIsFull'));
    const end = this.chain(this.directory).at(-1)!;
    const from = end.sector + INTERLEAVE[kind].directory;
    const sector = this.freeSectorFrom(track, from % sectorsOfTrack(this.geometry, track));
    this.setFree({ track, sector }, false);
    this.bytes.set([track, sector], this.offset(end));
    const offset = this.offset({ track, sector });
    this.bytes.fill(0, offset, offset + SECTOR);
    this.bytes[offset + 1] = 0xff;
    return offset;
  }
}
