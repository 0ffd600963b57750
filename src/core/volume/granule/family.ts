/** Granule volumes. */
import { candidate, type VolumeFamily } from '../family';
import { openGranule, probeGranule } from './read';
import { GRANULE_AREAS } from './records';
import { WritableGranule } from './write';

export const GRANULE: VolumeFamily = {
  filesystems: ['granule'],
  async probe(source) {
    return candidate(source, 'granule', await probeGranule(source), () => openGranule(source));
  },
  writable: (image) => new WritableGranule(image),
  areas: () => GRANULE_AREAS,
};
