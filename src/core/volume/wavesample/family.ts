/** Wavesample floppies, which are read only. */
import { candidate, type VolumeFamily } from '../family';
import { openWavesample, probeWavesample, WAVESAMPLE_AREAS } from './read';

export const WAVESAMPLE: VolumeFamily = {
  filesystems: ['wavesample'],
  async probe(source) {
    const found = await probeWavesample(source);
    return candidate(source, 'wavesample', found, () => openWavesample(source));
  },
  areas: () => WAVESAMPLE_AREAS,
};
