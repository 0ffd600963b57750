/** 16-sector catalogues, whose floppies are imaged by sectors or by blocks. */
import { candidate, type VolumeFamily } from '../family';
import { probeCatalogue16 } from './probe';
import { openCatalogue16 } from './read';
import { CATALOGUE16_AREAS } from './records';
import { WritableCatalogue16 } from './write';

export const CATALOGUE16: VolumeFamily = {
  filesystems: ['catalogue16'],
  async probe(source) {
    const found = await probeCatalogue16(source);
    return found && candidate(source, 'catalogue16', found, () => openCatalogue16(source, found));
  },
  writable: (image) => new WritableCatalogue16(image),
  areas: () => CATALOGUE16_AREAS,
  isInTwoOrders: true,
};
