/** One sound of an image, by its path, as a WAV: heard before the image is kept. */
import type { ByteSource } from '../bits/byte-source';
import type { Volume } from '../volume/volume';
import { frameBytesOf, framesOf, type SoundSample } from './sound';
import { soundsIn } from './sounds-of';
import { sampleWav } from './wav/sample-wav';

/** Null where no sound of that path is in the image. */
export async function soundByPath(
  source: ByteSource,
  { path }: { path: string },
): Promise<Uint8Array | null> {
  const { sounding } = await soundsIn(source);
  for (const { volume, sounds } of sounding) {
    const samples = sounds.folders.flatMap((folder) => folder.samples);
    const sample = samples.find(({ entry }) => entry.path === path);
    if (sample) return wavOf(volume, sample);
  }
  return null;
}

async function wavOf(volume: Volume, sample: SoundSample): Promise<Uint8Array> {
  const { head, tail } = sampleWav(sample);
  const frameBytes = sample.frames * frameBytesOf(sample);
  const wav = new Uint8Array(head.length + frameBytes + tail.length);
  wav.set(head);
  let at = head.length;
  for await (const piece of framesOf(volume, sample)) {
    wav.set(piece, at);
    at += piece.length;
  }
  wav.set(tail, head.length + frameBytes);
  return wav;
}
