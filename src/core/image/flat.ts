/**
 * Flat sector images: the sectors' data in order of cylinder, head and number. Position places a sector, whatever its
 * ID field says of cylinder and head; of several with one number the first sound one after the index counts.
 */
import { bytesOf, bytesPerTrack, bytesOfSizeCode, sectorPlaces, type Layout } from '../layout/layout';
import { isSound } from '../reading/grades';
import type { TrackSector } from '../reading/merge';

export interface FlatImage {
  bytes: Uint8Array;
  /** For each place of the layout, in order: the sector that fills it, or null where zeros stand. */
  filled: (TrackSector | null)[];
  /** Sectors that have no place: of another size or number, repeated, or outside the layout. */
  kept: TrackSector[];
}

/** Builds the image. With `keepDoubtful` the bytes of doubtful sectors stand where else zeros would. */
export function buildFlatImage(layout: Layout, sectors: readonly TrackSector[], options: { keepDoubtful?: boolean } = {}): FlatImage {
  const places = sectorPlaces(layout);
  const perTrack = bytesPerTrack(layout);
  const placeOf = new Map(places.map(({ r, n }, i) => [r * 256 + n, i]));
  const filled: (TrackSector | null)[] = new Array(layout.cylinders * layout.heads * places.length).fill(null);
  const kept: TrackSector[] = [];
  for (const sector of sectors) {
    if (sector.grade === 'lost' || sector.grade === 'unread') continue;
    const inside = sector.cylinder < layout.cylinders && sector.head < layout.heads;
    const place = inside ? placeOf.get(sector.r * 256 + sector.n) : undefined;
    if (place === undefined) { kept.push(sector); continue; }
    const slot = (sector.cylinder * layout.heads + sector.head) * places.length + place;
    const there = filled[slot];
    if (!there) filled[slot] = sector;
    else if (!isSound(there.grade) && isSound(sector.grade)) { filled[slot] = sector; kept.push(there); }
    else kept.push(sector);
  }
  const bytes = new Uint8Array(bytesOf(layout));
  for (const [slot, sector] of filled.entries()) {
    if (!sector?.data || !(isSound(sector.grade) || options.keepDoubtful)) continue;
    const offset = Math.floor(slot / places.length) * perTrack + places[slot % places.length]!.offset;
    bytes.set(sector.data.subarray(0, sector.size), offset);
  }
  return { bytes, filled, kept };
}

/** One sector of a flat image, with its place. */
export interface FlatSector {
  cylinder: number;
  head: number;
  r: number;
  n: number;
  data: Uint8Array;
}

/** The sectors of one track of a flat image, in the order in which the layout passes them under the head. */
export function flatTrack(layout: Layout, image: Uint8Array, cylinder: number, head: number): FlatSector[] {
  const base = (cylinder * layout.heads + head) * bytesPerTrack(layout);
  const offsets = new Map(sectorPlaces(layout).map(({ r, offset }) => [r, offset]));
  return layout.track.sectors.map(({ r, n }) => {
    const start = base + offsets.get(r)!;
    return { cylinder, head, r, n, data: image.subarray(start, start + bytesOfSizeCode(n)) };
  });
}
