/** FAT12, FAT16 and FAT32. */
import { sliceSource } from '@/core/bits/byte-source';
import { candidate, type VolumeFamily } from '../family';
import { probeFat } from './probe';
import { openFat } from './open';
import { fatAreas } from './records';
import { WritableFat } from './write';

export const FAT: VolumeFamily = {
  filesystems: ['fat12', 'fat16', 'fat32'],
  async probe(source, known) {
    const found = await probeFat(source, known);
    if (!found) return null;
    const { totalSectors, bytesPerSector, width } = found.geometry;
    const own = sliceSource(source, 0, Math.min(source.size, totalSectors * bytesPerSector));
    return candidate(own, `fat${width}`, found, () => openFat(own, found));
  },
  /** FAT32 is read only. */
  writable: (image, filesystem) => (filesystem === 'fat32' ? null : new WritableFat(image)),
  areas: (source) => fatAreas(source),
};
