/** One sound of an image, by its path, as a WAV: heard before the image is kept. */
import type { ByteSource } from '../bits/byte-source';
import { volumeOfBlank } from '../identify/writable-volume';
import { collect, type Volume } from '../volume/volume';
import { soundsIn, soundsOf } from './sounds-of';
import { streamedWav } from './wav/sample-wav';

/** Of an image that was begun as a blank, nothing may tell what it is: its kind does. */
async function soundingIn(source: ByteSource, kind: string | null) {
  const volume = kind === null ? null : await volumeOfBlank(source, kind);
  const sounds = volume && (await soundsOf(volume, { imageBytes: source.size }));
  return sounds ? [{ volume: volume as Volume, sounds }] : (await soundsIn(source)).sounding;
}

/** Null where no sound of that path is in the image. */
export async function soundByPath(
  source: ByteSource,
  { path, kind }: { path: string; kind: string | null },
): Promise<Uint8Array | null> {
  for (const { volume, sounds } of await soundingIn(source, kind)) {
    const samples = sounds.folders.flatMap((folder) => folder.samples);
    const sample = samples.find(({ entry }) => entry.path === path);
    if (sample) return collect(streamedWav(volume, sample).parts);
  }
  return null;
}
