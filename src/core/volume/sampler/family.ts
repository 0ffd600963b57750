/** Partitioned sampler disks. */
import { candidate, type VolumeFamily } from '../family';
import { probeSampler } from './header';
import { openSampler } from './read';
import { SAMPLER_AREAS } from './records';
import { WritableSampler } from './write';

export const SAMPLER: VolumeFamily = {
  filesystems: ['sampler'],
  async probe(source) {
    return candidate(source, 'sampler', await probeSampler(source), () => openSampler(source));
  },
  writable: (image) => new WritableSampler(image),
  areas: () => SAMPLER_AREAS,
};
