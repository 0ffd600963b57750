/** Sounds as the page has them: fetched once, made numbers, with what is drawn of them. */
import { Peaks } from '@/core/sound/peaks';
import { monoOf, valuesOf } from '@/core/sound/pcm';
import { frameBytesOf } from '@/core/sound/sound';
import { rawValues, type RawSettings } from '@/core/sound/raw-sound';
import { SoundRefusal, type SoundFile } from '@/core/sound/sound-file';
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { readSound } from '@/core/sound/read-sound';
import type { Sounds } from '../data/queries';

export type ListedSample = Sounds['volumes'][number]['folders'][number]['samples'][number];

/** A sound that can be heard and drawn. */
export interface Heard {
  name: string;
  rateHz: number;
  values: Float32Array;
  peaks: Peaks;
  loop: { startFrame: number; endFrame: number } | null;
  loops: readonly { startFrame: number; endFrame: number; hold: boolean }[];
  /** First and last frame that is played. */
  start: number;
  end: number;
  doubts: readonly { from: number; to: number }[];
}

/** What was fetched last; a sample has at most some megabytes. */
const KEPT = 24;
const kept = new Map<string, Promise<Heard>>();

function once(key: string, make: () => Promise<Heard>): Promise<Heard> {
  const there = kept.get(key);
  if (there) return there;
  const made = make();
  kept.set(key, made);
  made.catch(() => kept.delete(key));
  for (const oldest of [...kept.keys()].slice(0, Math.max(0, kept.size - KEPT)))
    kept.delete(oldest);
  return made;
}

/** All bytes at an address; the server's sentence where they are refused. */
export async function bytesAt(address: string): Promise<Uint8Array> {
  const response = await fetch(address);
  if (response.ok) return new Uint8Array(await response.arrayBuffer());
  const { error } = (await response.json().catch(() => ({}))) as { error?: string };
  throw new Error(error ?? response.statusText);
}

/** A sample of a volume, by its listing. */
export const heardSample = (sample: ListedSample): Promise<Heard> =>
  once(`${sample.file} ${sample.rateHz}`, async () => {
    const { name, rateHz, headerBytes, frames, bits, loops, start, end, doubts } = sample;
    const bytes = await bytesAt(`/api/files/${sample.file}?listen`);
    const data = bytes.subarray(headerBytes, headerBytes + frames * frameBytesOf(sample));
    const width = bits === 8 ? 1 : 2;
    const values = new Float32Array(
      valuesOf(data, { kind: 'linear', bytes: width, signed: bits === 16, bigEndian: false }),
    );
    const loop = loops.find(({ hold }) => hold) ?? null;
    const last = Math.min(end, values.length - 1);
    const first = start <= last ? start : 0;
    const peaks = new Peaks(values);
    return { name, rateHz, values, peaks, loop, loops, start: first, end: last, doubts };
  });

/** A file of sound; what it is not, in words. */
function soundIn(bytes: Uint8Array): SoundFile {
  try {
    const sound = readSound(bytes);
    if (sound) return sound;
  } catch (error) {
    if (!(error instanceof SoundRefusal)) throw error;
    throw new Error(tell(error.said), { cause: error });
  }
  throw new Error(tell(said('sound.isNoSound')));
}

/** A file of sound that is fetched from there, by what it says of itself. */
export async function soundAt(address: string, path: string): Promise<Heard> {
  const sound = soundIn(await bytesAt(address));
  const { coding, data, channels, rateHz } = sound;
  const values = new Float32Array(monoOf(valuesOf(data, coding), channels));
  const loops = sound.loops.map((each) => ({ ...each, hold: true }));
  const name = path.split('/').pop()!;
  return { ...withoutLoops({ name, rateHz, values }), loop: loops[0] ?? null, loops };
}

/** Bytes that are made numbers at once: more would take the page's memory. */
export const MOST_RAW_BYTES = 16 << 20;

/** Bytes by what a person set of them, the first of many. */
export function heardAsSet(bytes: Uint8Array, settings: RawSettings, name: string): Heard {
  const own = bytes.subarray(0, settings.skip + MOST_RAW_BYTES);
  const values = new Float32Array(monoOf(rawValues(own, settings), settings.channels));
  return withoutLoops({ name, rateHz: settings.rateHz, values });
}

const withoutLoops = (sound: Pick<Heard, 'name' | 'rateHz' | 'values'>): Heard => ({
  ...sound,
  peaks: new Peaks(sound.values),
  loop: null,
  loops: [],
  start: 0,
  end: sound.values.length - 1,
  doubts: [],
});

/** A file of sound that is kept. */
export const heardFile = (file: number, path: string): Promise<Heard> =>
  once(`file ${file}`, () => soundAt(`/api/files/${file}?listen`, path));
