/** Every sound of an image with the digest of its frames, by which the same sound is known elsewhere. */
import type { ByteSource } from '../bits/byte-source';
import { toHex, type Digester } from '../digester';
import type { Volume } from '../volume/volume';
import { listedSample, type ListedSample } from './listed-sounds';
import { frameBytesOf, framesOf, type SoundSample } from './sound';
import { soundsIn } from './sounds-of';

interface DigestedSound {
  /** Where its volume begins in the image. */
  offset: number;
  /** Partition and volume, or bank, as recorded. */
  folder: readonly string[];
  sample: ListedSample;
  /**
   * SHA-256 of its frames as they lie, in small letters. Null of one without frames, whose image
   * ends before them, or where more was read than an honest image holds.
   */
  pcmSha256: string | null;
}

/** Sounds may share bytes, on a hurt volume; so many times the image is read and no more. */
export const TIMES_IMAGE = 4;

/** `rateHz` is for what does not say its rate. */
export async function* digestedSounds(
  source: ByteSource,
  digester: Digester,
  rateHz?: number,
): AsyncGenerator<DigestedSound> {
  const { sounding } = await soundsIn(source, rateHz);
  let left = TIMES_IMAGE * source.size;
  for (const { volume, offset, sounds } of sounding) {
    const places = new Map(volume.entries.map((entry, position) => [entry, position]));
    for (const { path, samples } of sounds.folders)
      for (const found of samples) {
        const bytes = found.frames * frameBytesOf(found);
        const isRead = bytes > 0 && bytes <= left;
        if (isRead) left -= bytes;
        const pcmSha256 = isRead ? await digestOfFrames(volume, found, digester) : null;
        yield {
          offset,
          folder: path,
          sample: listedSample(found, places.get(found.entry)!),
          pcmSha256,
        };
      }
  }
}

async function digestOfFrames(
  volume: Volume,
  sample: SoundSample,
  digester: Digester,
): Promise<string | null> {
  const hash = digester.sha256Stream();
  let bytes = 0;
  for await (const piece of framesOf(volume, sample)) {
    hash.update(piece);
    bytes += piece.length;
  }
  return bytes === sample.frames * frameBytesOf(sample) ? toHex(hash.digest()) : null;
}
