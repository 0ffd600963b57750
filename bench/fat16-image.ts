/**
 * A full FAT16 volume of 32 MiB (ECMA-107), for measuring: files of a hundred kilobytes and some,
 * one after the other.
 */
import { seededRandom } from '@/core/bits/random';

const SECTOR = 512;
const PER_CLUSTER = 4;
const TOTAL = 65_536;
const RESERVED = 1;
const FAT_SECTORS = 64;
const ROOT_ENTRIES = 512;
const DATA = RESERVED + 2 * FAT_SECTORS + (ROOT_ENTRIES * 32) / SECTOR;
const CLUSTER = SECTOR * PER_CLUSTER;

export function fat16Image(): Uint8Array {
  const image = new Uint8Array(TOTAL * SECTOR);
  const view = new DataView(image.buffer);
  const random = seededRandom('bench/fat16');
  for (let i = DATA * SECTOR; i < image.length; i += 4)
    view.setUint32(i, random.below(0xffff_ffff), true);
  image.set([0xeb, 0x3c, 0x90]);
  view.setUint16(11, SECTOR, true);
  image[13] = PER_CLUSTER;
  view.setUint16(14, RESERVED, true);
  image[16] = 2;
  view.setUint16(17, ROOT_ENTRIES, true);
  view.setUint32(32, TOTAL, true);
  image[21] = 0xf8;
  view.setUint16(22, FAT_SECTORS, true);
  image.set([0x55, 0xaa], 510);
  const link = (cluster: number, value: number) => {
    for (const fat of [0, 1])
      view.setUint16((RESERVED + fat * FAT_SECTORS) * SECTOR + cluster * 2, value, true);
  };
  link(0, 0xfff8);
  link(1, 0xffff);
  const clusters = Math.floor((TOTAL - DATA) / PER_CLUSTER);
  let next = 2;
  for (let file = 0; file < 300; file++) {
    const count = 48 + (file % 11);
    if (next + count > clusters) break;
    const at = (RESERVED + 2 * FAT_SECTORS) * SECTOR + file * 32;
    image.set(new TextEncoder().encode(`F${String(file).padStart(7, '0')}DAT`), at);
    view.setUint16(at + 24, (10 << 9) | (3 << 5) | 5, true);
    view.setUint16(at + 26, next, true);
    view.setUint32(at + 28, count * CLUSTER - 77, true);
    for (let i = 0; i < count; i++) link(next + i, i + 1 < count ? next + i + 1 : 0xffff);
    next += count;
  }
  return image;
}
