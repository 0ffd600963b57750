/**
 * Tracks and sectors of the `.d64` family: 256-byte sectors, tracks from 1, and where each kind
 * keeps its map and directory.
 */

export const SECTOR = 256;

export type D64Kind = 'd64' | 'd71' | 'd81';

export interface D64Geometry {
  kind: D64Kind;
  tracks: number;
  /** Track of the directory; its blocks are never counted as free. */
  directoryTrack: number;
  /** First sector of the directory's chain. */
  directorySector: number;
  /** Tracks that are not given to files. */
  reserved: readonly number[];
}

/** Sectors of a 35-track side's zones, by their last track. */
const ZONES = [
  [17, 21],
  [24, 19],
  [30, 18],
  [40, 17],
] as const;
export const SIDE_TRACKS = 35;
/** Carries the second side's map; none of it is given to files. */
export const SECOND_SIDE_TRACK = 53;

export function sectorsOfTrack({ kind }: D64Geometry, track: number): number {
  if (kind === 'd81') return 40;
  const own = kind === 'd71' && track > SIDE_TRACKS ? track - SIDE_TRACKS : track;
  return ZONES.find(([last]) => own <= last)?.[1] ?? 17;
}

/** Number of a sector from the start of the image, or −1 where there is none such. */
export function blockOf(geometry: D64Geometry, track: number, sector: number): number {
  if (track < 1 || track > geometry.tracks || sector >= sectorsOfTrack(geometry, track)) return -1;
  if (geometry.kind === 'd81') return (track - 1) * 40 + sector;
  let block = sector;
  for (let each = 1; each < track; each++) block += sectorsOfTrack(geometry, each);
  return block;
}

export const blocksIn = (geometry: D64Geometry) =>
  blockOf(geometry, geometry.tracks, 0) + sectorsOfTrack(geometry, geometry.tracks);

const D64 = (tracks: number): D64Geometry => ({
  kind: 'd64',
  tracks,
  directoryTrack: 18,
  directorySector: 1,
  reserved: [18],
});
const D71: D64Geometry = {
  kind: 'd71',
  tracks: 70,
  directoryTrack: 18,
  directorySector: 1,
  reserved: [18, SECOND_SIDE_TRACK],
};
const D81: D64Geometry = {
  kind: 'd81',
  tracks: 80,
  directoryTrack: 40,
  directorySector: 3,
  reserved: [40],
};

/** Bytes of an image of 80 tracks. */
export const BYTES_81 = 819_200;

/** Bytes of whole images, without and with a status byte a sector. */
export const SIZES: readonly [number, D64Geometry][] = [
  [174_848, D64(35)],
  [175_531, D64(35)],
  [196_608, D64(40)],
  [197_376, D64(40)],
  [349_696, D71],
  [351_062, D71],
  [BYTES_81, D81],
  [822_400, D81],
];

/** By size, or for one that was cut off the smallest that holds it. */
export function geometryOfSize(size: number): D64Geometry | null {
  return (
    SIZES.find(([bytes]) => bytes === size)?.[1] ??
    SIZES.find(([bytes]) => bytes > size)?.[1] ??
    null
  );
}
