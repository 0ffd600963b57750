/** CP/M, whose parameters stand nowhere on the disk: they are given, or worked out. */
import { memorySource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import { candidate, type VolumeFamily } from '../family';
import { probeCpm } from './probe';
import { openCpm } from './read';
import { WritableCpm } from './write';

export const CPM: VolumeFamily = {
  filesystems: ['cpm'],
  async probe(source, { cpm }) {
    if (cpm) {
      const given = { confidence: 1, reasons: [said('identify.itsDiskParameterSet')] };
      return candidate(source, 'cpm', given, () => openCpm(source, { parameters: cpm }));
    }
    const found = await probeCpm(source);
    return found && candidate(source, 'cpm', found, () => openCpm(source, found));
  },
  async writable(image) {
    const found = await probeCpm(memorySource(image));
    return found && new WritableCpm(image, found.parameters);
  },
};
