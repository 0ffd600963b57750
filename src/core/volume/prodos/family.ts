/** ProDOS, whose floppies are imaged by blocks or by sectors. */
import { candidate, type VolumeFamily } from '../family';
import { probeProdos } from './probe';
import { openProdos } from './read';
import { PRODOS_AREAS } from './records';
import { WritableProdos } from './write';

export const PRODOS: VolumeFamily = {
  filesystems: ['prodos'],
  async probe(source) {
    const found = await probeProdos(source);
    return found && candidate(source, 'prodos', found, () => openProdos(source, found));
  },
  writable: (image) => new WritableProdos(image),
  areas: () => PRODOS_AREAS,
  isInTwoOrders: true,
};
