/** Wavesample floppies. */
import { candidate, type VolumeFamily } from '../family';
import { openWavesample, probeWavesample, WAVESAMPLE_AREAS } from './read';
import { WritableWavesample } from './write';

export const WAVESAMPLE: VolumeFamily = {
  filesystems: ['wavesample'],
  async probe(source) {
    const found = await probeWavesample(source);
    return candidate(source, 'wavesample', found, () => openWavesample(source));
  },
  writable: (image) => new WritableWavesample(image),
  areas: () => WAVESAMPLE_AREAS,
};
