/** The volumes of an image that hold sounds, with them. */
import type { ByteSource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import type { Problem } from '../problems';
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

/** A volume with its sounds, and where it begins in the image. */
export interface Sounding {
  volume: Volume;
  offset: number;
  sounds: Sounds;
}

/** `rateHz` is for what does not say its rate; the problems are those of the image. */
export async function soundsIn(
  source: ByteSource,
  rateHz?: number,
): Promise<{ sounding: Sounding[]; problems: Problem[] }> {
  const { volumes, problems } = await identifyVolumes(source);
  const sounding: Sounding[] = [];
  for (const { volume, offset, length } of volumes) {
    const imageBytes = Math.min(length, source.size - offset);
    const sounds = await soundsOf(volume, { imageBytes, rateHz });
    if (sounds) sounding.push({ volume, offset, sounds });
  }
  return { sounding, problems };
}
