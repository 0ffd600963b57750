/** Blank volumes of the .d64 family. */
import {
  SECOND_SIDE_TRACK,
  SECTOR,
  SIDE_TRACKS,
  SIZES,
  blockOf,
  sectorsOfTrack,
  type D64Geometry,
  type D64Kind,
} from './geometry';
import { bytesOfName } from './names';
import {
  FIRST_TRACK_MAP_81,
  FORMAT_BYTES,
  HEADER_81_FIELDS,
  HEADER_FIELDS,
  NAME_BYTES,
  TRACKS_A_MAP_81,
  TRACK_MAP_81_BYTES,
  TRACK_MAP_BYTES,
  TWO_SIDED_FIELDS,
} from './records';

/** A disk with nothing on it. `id` is the two characters that tell disks apart. */
export function formatD64(
  kind: D64Kind,
  { label = '', id = '00' }: { label?: string; id?: string } = {},
): Uint8Array {
  const [bytes, geometry] = SIZES.find(
    ([, each]) => each.kind === kind && (kind !== 'd64' || each.tracks === 35),
  )!;
  const image = new Uint8Array(bytes);
  const at = (track: number, sector: number) => blockOf(geometry, track, sector) * SECTOR;
  const { directoryTrack, directorySector } = geometry;
  const blank: Blank = {
    image,
    geometry,
    at,
    name: bytesOfName(label, NAME_BYTES) ?? bytesOfName('', NAME_BYTES)!,
    id: bytesOfName(id, 2) ?? bytesOfName('00', 2)!,
  };
  if (kind === 'd81') putHeaderOf80Tracks(blank);
  else putHeaderOf35Tracks(blank);
  if (kind === 'd71') putSecondSide(blank);
  image[at(directoryTrack, directorySector) + 1] = 0xff;
  for (const sector of kind === 'd81' ? [0, 1, 2, 3] : [0, 1])
    takeBlank(image, geometry, directoryTrack, sector, at);
  return image;
}

interface Blank {
  image: Uint8Array;
  geometry: D64Geometry;
  /** Byte at which a sector begins. */
  at: (track: number, sector: number) => number;
  name: Uint8Array;
  id: Uint8Array;
}

/** Map bytes of a track that is free: a bit a sector, the first in the lowest bit. */
const freeBits = (sectors: number, length: number): Uint8Array =>
  Uint8Array.from({ length }, (_, i) => Math.max(0, Math.min(255, 2 ** (sectors - i * 8) - 1)));

function putHeaderOf80Tracks({ image, geometry, at, name, id }: Blank): void {
  const { directoryTrack, directorySector } = geometry;
  const header = at(directoryTrack, 0);
  image.set([directoryTrack, directorySector, FORMAT_BYTES.d81, 0], header);
  image.set(name, header + HEADER_81_FIELDS.diskName.at);
  image.set([0xa0, 0xa0, ...id, 0xa0, 0x33, 0x44, 0xa0, 0xa0], header + 0x14);
  for (const [sector, first, link] of [
    [1, 1, [directoryTrack, 2]],
    [2, 41, [0, 0xff]],
  ] as const) {
    const map = at(directoryTrack, sector);
    image.set([...link, 0x44, 0xbb, ...id, 0xc0, 0], map);
    for (let i = 0; i < TRACKS_A_MAP_81; i++)
      image.set(
        [sectorsOfTrack(geometry, first + i), ...freeBits(40, 5)],
        map + FIRST_TRACK_MAP_81 + i * TRACK_MAP_81_BYTES,
      );
  }
}

function putHeaderOf35Tracks({ image, geometry, at, name, id }: Blank): void {
  const { directoryTrack, directorySector, kind } = geometry;
  const header = at(directoryTrack, 0);
  image.set(
    [directoryTrack, directorySector, FORMAT_BYTES[kind], kind === 'd71' ? 0x80 : 0],
    header,
  );
  for (let track = 1; track <= SIDE_TRACKS; track++) {
    const sectors = sectorsOfTrack(geometry, track);
    image.set([sectors, ...freeBits(sectors, 3)], header + track * TRACK_MAP_BYTES);
  }
  image.fill(0xa0, header + 0x90, header + 0xab);
  image.set(name, header + HEADER_FIELDS.diskName.at);
  image.set([...id, 0xa0, 0x32, 0x41], header + HEADER_FIELDS.id.at);
}

/** Counts of the second side stand in the first side's header, its map on a track of its own. */
function putSecondSide({ image, geometry, at }: Blank): void {
  const counts = at(geometry.directoryTrack, 0) + TWO_SIDED_FIELDS.freeOnSecondSide.at;
  for (let track = SIDE_TRACKS + 1; track <= 2 * SIDE_TRACKS; track++) {
    if (track === SECOND_SIDE_TRACK) continue;
    const sectors = sectorsOfTrack(geometry, track);
    image[counts + track - 36] = sectors;
    image.set(freeBits(sectors, 3), at(SECOND_SIDE_TRACK, 0) + (track - 36) * 3);
  }
}

function takeBlank(
  image: Uint8Array,
  { kind }: D64Geometry,
  track: number,
  sector: number,
  at: (track: number, sector: number) => number,
): void {
  const count =
    kind === 'd81'
      ? at(track, 1) + FIRST_TRACK_MAP_81 + (track - 1) * TRACK_MAP_81_BYTES
      : at(track, 0) + track * TRACK_MAP_BYTES;
  image[count]!--;
  image[count + 1 + (sector >> 3)]! &= ~(1 << (sector & 7));
}
