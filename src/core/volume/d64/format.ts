/** Blank volumes of the .d64 family. */
import { SIZES, blockOf, sectorsOfTrack, type D64Geometry, type D64Kind } from './geometry';
import { bytesOfName } from './names';
import { SECTOR, NAME_BYTES } from './write';

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
  image.set([directoryTrack, directorySector, 0x44, 0], header);
  image.set(name, header + 4);
  image.set([0xa0, 0xa0, ...id, 0xa0, 0x33, 0x44, 0xa0, 0xa0], header + 0x14);
  for (const [sector, first, link] of [
    [1, 1, [directoryTrack, 2]],
    [2, 41, [0, 0xff]],
  ] as const) {
    const map = at(directoryTrack, sector);
    image.set([...link, 0x44, 0xbb, ...id, 0xc0, 0], map);
    for (let i = 0; i < 40; i++)
      image.set([sectorsOfTrack(geometry, first + i), ...freeBits(40, 5)], map + 0x10 + i * 6);
  }
}

function putHeaderOf35Tracks({ image, geometry, at, name, id }: Blank): void {
  const { directoryTrack, directorySector, kind } = geometry;
  const header = at(directoryTrack, 0);
  image.set([directoryTrack, directorySector, 0x41, kind === 'd71' ? 0x80 : 0], header);
  for (let track = 1; track <= 35; track++) {
    const sectors = sectorsOfTrack(geometry, track);
    image.set([sectors, ...freeBits(sectors, 3)], header + track * 4);
  }
  image.fill(0xa0, header + 0x90, header + 0xab);
  image.set(name, header + 0x90);
  image.set([...id, 0xa0, 0x32, 0x41], header + 0xa2);
}

/** Counts of the second side stand in the first side's header, its map on a track of its own. */
function putSecondSide({ image, geometry, at }: Blank): void {
  const counts = at(geometry.directoryTrack, 0) + 0xdd;
  for (let track = 36; track <= 70; track++) {
    if (track === 53) continue;
    const sectors = sectorsOfTrack(geometry, track);
    image[counts + track - 36] = sectors;
    image.set(freeBits(sectors, 3), at(53, 0) + (track - 36) * 3);
  }
}

function takeBlank(
  image: Uint8Array,
  { kind }: D64Geometry,
  track: number,
  sector: number,
  at: (track: number, sector: number) => number,
): void {
  const count = kind === 'd81' ? at(track, 1) + 0x10 + (track - 1) * 6 : at(track, 0) + track * 4;
  image[count]!--;
  image[count + 1 + (sector >> 3)]! &= ~(1 << (sector & 7));
}
