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
  const header = at(directoryTrack, 0);
  const name = bytesOfName(label, NAME_BYTES) ?? bytesOfName('', NAME_BYTES)!;
  const idBytes = bytesOfName(id, 2) ?? bytesOfName('00', 2)!;
  const full = (track: number) => sectorsOfTrack(geometry, track);
  const bitsOf = (count: number, length: number) =>
    Uint8Array.from({ length }, (_, i) => Math.max(0, Math.min(255, 2 ** (count - i * 8) - 1)));
  if (kind === 'd81') {
    image.set([directoryTrack, directorySector, 0x44, 0], header);
    image.set(name, header + 4);
    image.set([0xa0, 0xa0, ...idBytes, 0xa0, 0x33, 0x44, 0xa0, 0xa0], header + 0x14);
    for (const [sector, first, link] of [
      [1, 1, [directoryTrack, 2]],
      [2, 41, [0, 0xff]],
    ] as const) {
      image.set([...link, 0x44, 0xbb, ...idBytes, 0xc0, 0], at(directoryTrack, sector));
      for (let i = 0; i < 40; i++)
        image.set([full(first + i), ...bitsOf(40, 5)], at(directoryTrack, sector) + 0x10 + i * 6);
    }
  } else {
    image.set([directoryTrack, directorySector, 0x41, kind === 'd71' ? 0x80 : 0], header);
    for (let track = 1; track <= 35; track++)
      image.set([full(track), ...bitsOf(full(track), 3)], header + track * 4);
    image.fill(0xa0, header + 0x90, header + 0xab);
    image.set(name, header + 0x90);
    image.set([...idBytes, 0xa0, 0x32, 0x41], header + 0xa2);
    if (kind === 'd71')
      for (let track = 36; track <= 70; track++) {
        image[header + 0xdd + track - 36] = track === 53 ? 0 : full(track);
        if (track !== 53) image.set(bitsOf(full(track), 3), at(53, 0) + (track - 36) * 3);
      }
  }
  image[at(directoryTrack, directorySector) + 1] = 0xff;
  for (const sector of kind === 'd81' ? [0, 1, 2, 3] : [0, 1])
    takeBlank(image, geometry, directoryTrack, sector, at);
  return image;
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
