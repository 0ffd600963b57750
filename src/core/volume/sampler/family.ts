/** Partitioned sampler disks, which are read only. */
import { candidate, type VolumeFamily } from '../family';
import { probeSampler } from './header';
import { openSampler } from './read';
import { SAMPLER_AREAS } from './records';

export const SAMPLER: VolumeFamily = {
  filesystems: ['sampler'],
  async probe(source) {
    return candidate(source, 'sampler', await probeSampler(source), () => openSampler(source));
  },
  areas: () => SAMPLER_AREAS,
};
