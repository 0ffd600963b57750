/** The sounds of a volume, of the families that hold any. */
import type { Volume } from '../volume/volume';
import { samplerSounds } from './sampler/sampler-sounds';
import type { Sounds } from './sound';
import { wavesampleSounds } from './wavesample/wavesample-sounds';

interface SoundsAsked {
  /** Of the image, from where the volume begins. */
  imageBytes: number;
  /** For what does not say its rate. */
  rateHz?: number | undefined;
}

/** Null of a volume of a family that holds none. */
export async function soundsOf(
  volume: Volume,
  { imageBytes, rateHz }: SoundsAsked,
): Promise<Sounds | null> {
  if (volume.filesystem === 'sampler') return samplerSounds(volume, imageBytes);
  if (volume.filesystem === 'wavesample') return wavesampleSounds(volume, rateHz);
  return null;
}
