/**
 * Flat sector images: the sectors' data in the order of the layout. Position places a sector,
 * whatever its ID field
 * says of cylinder and head; of several with one number the first sound one after the index counts.
 */
import { bytesOf, sectorKey, sectorsInOrder, tracksOfImage, type Layout } from '../layout/layout';
import { isSound } from '../reading/grades';
import type { TrackSector } from '../reading/track-sector';

/** One place of the image. */
export interface ImagePlace {
  cylinder: number;
  head: number;
  r: number;
  offset: number;
  bytes: number;
  /** What fills it, or null where zeros stand. */
  sector: TrackSector | null;
}

export interface FlatImage {
  bytes: Uint8Array;
  /** In the order of the image. */
  places: ImagePlace[];
  /** Sectors that have no place: of another size or number, repeated, or outside the layout. */
  kept: TrackSector[];
}

interface FlatOptions {
  /** Steps of the drive from one cylinder of the layout to the next. */
  stepping?: 1 | 2;
  /** The bytes of doubtful sectors stand where else zeros would. */
  keepDoubtful?: boolean;
}

/** Builds the image of sectors in order of angle, as decoding gives them. */
export function buildFlatImage(
  layout: Layout,
  sectors: readonly TrackSector[],
  { stepping = 1, keepDoubtful = false }: FlatOptions = {},
): FlatImage {
  const places: ImagePlace[] = [];
  const byTrack = new Map<number, Map<number, ImagePlace>>();
  for (const track of tracksOfImage(layout)) {
    const there = new Map<number, ImagePlace>();
    byTrack.set(track.cylinder * 2 + track.head, there);
    for (const { r, bytes, offset } of track.places) {
      const place: ImagePlace = {
        cylinder: track.cylinder,
        head: track.head,
        r,
        offset,
        bytes,
        sector: null,
      };
      places.push(place);
      there.set(sectorKey(r, bytes), place);
    }
  }
  const kept: TrackSector[] = [];
  for (const sector of sectors) {
    if (sector.grade === 'lost' || sector.grade === 'unread') continue;
    const place = byTrack
      .get((sector.cylinder / stepping) * 2 + sector.head)
      ?.get(sectorKey(sector.r, sector.size));
    if (!place) kept.push(sector);
    else if (!place.sector) place.sector = sector;
    else if (!isSound(place.sector.grade) && isSound(sector.grade)) {
      kept.push(place.sector);
      place.sector = sector;
    } else kept.push(sector);
  }
  const bytes = new Uint8Array(bytesOf(layout));
  for (const { sector, offset } of places) {
    if (sector?.data && (isSound(sector.grade) || keepDoubtful))
      bytes.set(sector.data.subarray(0, sector.size), offset);
  }
  return { bytes, places, kept };
}

/** One sector of a flat image, with its place. */
interface FlatSector {
  cylinder: number;
  head: number;
  r: number;
  bytes: number;
  data: Uint8Array;
}

/**
 * The sectors of one track of a flat image, in the order in which the layout passes them under the
 * head; what the image lacks is zeros.
 */
export function flatTrack(
  layout: Layout,
  image: Uint8Array,
  cylinder: number,
  head: number,
): FlatSector[] {
  const track = tracksOfImage(layout).find(
    (each) => each.cylinder === cylinder && each.head === head,
  );
  if (!track) return [];
  const offsets = new Map(track.places.map(({ r, offset }) => [r, offset]));
  return sectorsInOrder(track.format, cylinder, head).map(({ r, bytes }) => {
    const start = offsets.get(r)!;
    const there = image.subarray(
      Math.min(start, image.length),
      Math.min(start + bytes, image.length),
    );
    const data =
      there.length === bytes ? there : Uint8Array.from({ length: bytes }, (_, i) => there[i] ?? 0);
    return { cylinder, head, r, bytes, data };
  });
}

/** In what order the layout's image holds the sectors, in a few words. */
export function imageOrder({ imageBy, imageHeads, imageSectors, heads }: Layout): string {
  const byHead = imageBy === 'head' ? 'head, cylinder' : 'cylinder, head';
  const first = heads > 1 && imageHeads[0] !== 0 ? `, head ${imageHeads[0]} first` : '';
  return `${byHead}, ${imageSectors ? 'logical sector' : 'number'}${first}`;
}
