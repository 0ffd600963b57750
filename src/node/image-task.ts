/** What is asked of an image thread, and what comes back: the messages between the two sides. */
import { assemble, type Edit } from '@/core/assembly/edits';
import { listVolume } from '@/core/assembly/listed';
import { Matcher } from '@/core/scan/matcher';
import { stringsOf } from '@/core/scan/strings';
import { listSounds } from '@/core/sound/listed-sounds';
import { readSound } from '@/core/sound/read-sound';
import { sampleFile } from '@/core/sound/sampler/put-sample';
import { waveFile } from '@/core/sound/wavesample/put-wave';
import { soundByPath } from '@/core/sound/sound-by-path';
import { SoundRefusal } from '@/core/sound/sound-file';
import type { ByteSource } from '@/core/bits/byte-source';
import type { Said } from '@/core/said';
import { VolumeRefusal, type RefusalReason } from '@/core/volume/writable';
import { nodeDigester } from './digester';

interface Refused {
  refused: RefusalReason;
  said: Said;
}

/** The source is what the volume begins with, and behind it the content of every file put. */
async function assembled(
  source: ByteSource,
  { baseBytes, kind, edits }: { baseBytes: number; kind: string | null; edits: readonly Edit[] },
): Promise<Uint8Array | Refused> {
  const base = await source.read(0, baseBytes);
  let next = baseBytes;
  try {
    const { image } = await assemble(base, kind, edits, ({ bytes }) => {
      next += bytes;
      return source.read(next - bytes, bytes);
    });
    return image;
  } catch (error) {
    if (error instanceof VolumeRefusal) return { refused: error.reason, said: error.said };
    throw error;
  }
}

/** A file of sound as its target keeps sounds, by that name; null of what is no file of sound. */
async function asSample(
  source: ByteSource,
  { name, filesystem }: { name: string; filesystem: 'sampler' | 'wavesample' },
): Promise<{ file: Uint8Array; remarks: Said[] } | Pick<Refused, 'said'> | null> {
  try {
    const sound = readSound(await source.read(0, source.size));
    if (!sound) return null;
    const { file, remarks } =
      filesystem === 'wavesample' ? waveFile(sound) : sampleFile(sound, name);
    return { file, remarks };
  } catch (error) {
    if (error instanceof SoundRefusal) return { said: error.said };
    throw error;
  }
}

/** Work on all of an image, by its name. */
export const IMAGE_TASKS = Object.freeze({
  strings: (source: ByteSource, { least, limit }: { least: number; limit: number }) =>
    stringsOf(source, least, limit),
  find: (source: ByteSource, { pattern }: { pattern: Int16Array }) =>
    new Matcher([pattern]).search(source),
  sounds: listSounds,
  assemble: assembled,
  'as-sample': asSample,
  sound: soundByPath,
  list: (
    source: ByteSource,
    { withDigests, kind }: { withDigests: boolean; kind: string | null },
  ) => listVolume(source, withDigests ? nodeDigester : null, kind),
});

export type ImageTaskName = keyof typeof IMAGE_TASKS;
export type ImageQuestion<K extends ImageTaskName> = Parameters<(typeof IMAGE_TASKS)[K]>[1];
export type ImageAnswer<K extends ImageTaskName> = Awaited<ReturnType<(typeof IMAGE_TASKS)[K]>>;

/** The thread has no image: it asks for each piece. */
export type ToImageThread =
  | { kind: 'begin'; task: ImageTaskName; question: never; size: number }
  | { kind: 'bytes'; read: number; bytes: Uint8Array };
export type FromImageThread =
  | { kind: 'read'; read: number; offset: number; length: number }
  | { kind: 'done'; answer: unknown }
  | { kind: 'failed'; message: string };
