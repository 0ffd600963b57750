/**
 * The two orders of 35 × 16 × 256 images: by the catalogue's sectors, and by 512-byte blocks; one
 * seen as the other.
 */
import type { ByteSource } from '../bits/byte-source';
import { extentVolume } from './extent-volume';
import { joined } from './extents';
import type { Extent, Volume } from './volume';

const TRACK = 4096;
const SECTOR = 256;
/** Sectors of a track that its eight blocks are made of, in order: 0+14, 13+12 … 1+15. */
const SECTORS_OF_BLOCKS = [0, 14, 13, 12, 11, 10, 9, 8, 7, 6, 5, 4, 3, 2, 1, 15] as const;

export const SIXTEEN_SECTOR_BYTES = 35 * TRACK;

/**
 * An image in sector order as blocks, or one in block order as sectors: the exchange is its own
 * inverse.
 */
export function otherOrder(source: ByteSource): ByteSource {
  return {
    size: source.size,
    async read(offset, length) {
      const start = Math.max(0, Math.min(offset, source.size));
      const end = Math.max(start, Math.min(offset + length, source.size));
      const first = Math.floor(start / TRACK) * TRACK;
      const tracks = await source.read(first, Math.ceil(end / TRACK) * TRACK - first);
      const turned = new Uint8Array(tracks.length);
      for (let at = 0; at < tracks.length; at += SECTOR) {
        const from = at - (at % TRACK) + SECTORS_OF_BLOCKS[(at % TRACK) / SECTOR]! * SECTOR;
        turned.set(tracks.subarray(from, Math.min(from + SECTOR, tracks.length)), at);
      }
      return turned.subarray(start - first, end - first);
    },
  };
}

/** The same of bytes in memory, whole tracks. */
export function turnedBytes(image: Uint8Array): Uint8Array {
  const out = new Uint8Array(image.length);
  for (let at = 0; at < image.length; at += SECTOR) {
    const from = at - (at % TRACK) + SECTORS_OF_BLOCKS[(at % TRACK) / SECTOR]! * SECTOR;
    out.set(image.subarray(from, from + SECTOR), at);
  }
  return out;
}

/**
 * A volume that was read in the other order, with its extents where they lie in the image itself.
 */
export function turnedVolume(volume: Volume, source: ByteSource): Volume {
  const place = (at: number) =>
    at -
    (at % TRACK) +
    SECTORS_OF_BLOCKS[Math.floor((at % TRACK) / SECTOR)]! * SECTOR +
    (at % SECTOR);
  const turned = ({ offset, length }: Extent): Extent[] => {
    if (offset < 0) return [{ offset, length }];
    const parts: Extent[] = [];
    for (let at = offset; at < offset + length;) {
      const step = Math.min(offset + length - at, SECTOR - (at % SECTOR));
      parts.push({ offset: place(at), length: step });
      at += step;
    }
    return parts;
  };
  return extentVolume(source, {
    ...volume,
    entries: volume.entries.map((entry) => ({
      ...entry,
      extents: joined(entry.extents.flatMap(turned)),
    })),
  });
}
