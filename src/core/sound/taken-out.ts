/**
 * What sounds become when they are taken out: a folder for each partition and volume, a WAV (which
 * may be packed) for each sample, an SFZ for each program, under names that stand on any of today's
 * systems and in the text of an instrument.
 */
import type { Said } from '@/core/said';
import { toHex, type Digester } from '../digester';
import type { Volume, VolumeEntry } from '../volume/volume';
import { safeName } from '../volume/safe-name';
import { sfzOf } from './sfz';
import {
  framesOf,
  frameBytesOf,
  type SoundFolder,
  type SoundProgram,
  type SoundSample,
} from './sound';
import { sampleWav, type SampleWav } from './wav/sample-wav';

/** Bytes of a name, its ending and a number apart: a name may have 200. */
const LONGEST = 180;

/** A name of letters, digits, space and `_ + - . ( )` and `#`, as it may stand in an SFZ. */
function soundName(name: string): string {
  const plain = name.replace(/[^A-Za-z0-9 _+\-.()#]/g, '_').slice(0, LONGEST);
  return safeName(plain.replace(/^[ #]/, '_'));
}

interface Taken {
  /** Below the folder that all go into, with forward slashes. */
  file: string;
  /** As recorded. */
  path: string;
  name: string;
  notCarried: Said[];
}

export interface TakenSample extends Taken {
  kind: 'sample';
  volume: Volume;
  sample: SoundSample;
  wav: SampleWav;
}

export interface TakenProgram extends Taken {
  kind: 'program';
  text: string;
}

/** What the manifest says of a file. */
export interface TakenEntry {
  file: string;
  path: string;
  name: string;
  /** Of a sample, once its last byte was given: SHA-256 of its frames. */
  pcmSha256?: string;
  notCarried: Said[];
}

/** A file with the bytes of what is taken out; its entry is complete behind the last of them. */
export function fileOf(
  taken: TakenSample | TakenProgram,
  digester: Digester,
): { entry: TakenEntry; bytes: AsyncGenerator<Uint8Array> } {
  const { file, path, name, notCarried } = taken;
  const entry: TakenEntry = { file, path, name, notCarried };
  const bytes = taken.kind === 'program' ? textOf(taken) : wavOf(taken, entry, digester);
  return { entry, bytes };
}

async function* textOf({ text }: TakenProgram): AsyncGenerator<Uint8Array> {
  yield new TextEncoder().encode(text);
}

async function* wavOf(
  { volume, sample, wav }: TakenSample,
  entry: TakenEntry,
  digester: Digester,
): AsyncGenerator<Uint8Array> {
  const hash = digester.sha256Stream();
  yield wav.head;
  for await (const piece of framesOf(volume, sample)) {
    hash.update(piece);
    yield piece;
  }
  entry.pcmSha256 = toHex(hash.digest());
  yield wav.tail;
}

/** Bytes that a file will have. */
export const bytesOf = (taken: TakenSample | TakenProgram): number =>
  taken.kind === 'program'
    ? taken.text.length
    : taken.wav.head.length +
      taken.sample.frames * frameBytesOf(taken.sample) +
      taken.wav.tail.length;

/** Names in one folder, no two alike also where case is folded. */
class Names {
  private readonly taken = new Set<string>();

  give(name: string, ending = ''): string {
    const stem = soundName(name);
    let free = `${stem}${ending}`;
    for (let count = 2; this.taken.has(free.toLowerCase()); count++)
      free = `${stem} (${count})${ending}`;
    this.taken.add(free.toLowerCase());
    return free;
  }
}

/** What samples are written as: the second packs the first without loss. */
export type SoundEnding = '.wav' | '.flac';

interface TakingOutOptions {
  ending?: SoundEnding;
  /**
   * What is the same of samples that may share one file; null of one that gets its own in any case.
   * Left out, each gets its own.
   */
  keyOf?: (sample: SoundSample) => string | null;
}

/** A folder with what was chosen of it: a program brings the samples along that it plays. */
export function chosenOf(
  { path, samples, programs }: SoundFolder,
  isChosen: (entry: VolumeEntry) => boolean,
): SoundFolder {
  const playing = programs.filter(({ entry }) => isChosen(entry));
  const played = new Set(
    playing.flatMap(({ regions }) => regions.map(({ sample }) => sample?.entry)),
  );
  return {
    path,
    samples: samples.filter(({ entry }) => isChosen(entry) || played.has(entry)),
    programs: playing,
  };
}

/** From a folder to a file, both below the same root. */
function relativeFile(folder: string, file: string): string {
  const [from, to] = [folder.split('/'), file.split('/')];
  while (from.length > 0 && from[0] === to[0]) {
    from.shift();
    to.shift();
  }
  return [...from.map(() => '..'), ...to].join('/');
}

/** Gives files their places, folder after folder. */
export class TakingOut {
  /** Samples that are in the file of another. */
  readonly shared: TakenEntry[] = [];
  private readonly folders = new Map<string, string>();
  private readonly names = new Map<string, Names>();
  /** By what is the same of them: the file that they share. */
  private readonly firsts = new Map<string, string>();
  private readonly ending: SoundEnding;
  private readonly keyOf: NonNullable<TakingOutOptions['keyOf']>;

  constructor({ ending = '.wav', keyOf = () => null }: TakingOutOptions = {}) {
    this.ending = ending;
    this.keyOf = keyOf;
  }

  /** The files of a folder; volumes of one partition share the folder above. */
  *filesOf(volume: Volume, folder: SoundFolder): Generator<TakenSample | TakenProgram> {
    const place = this.placeOf(folder.path);
    const names = new Names();
    const files = new Map<SoundSample, string>();
    for (const sample of folder.samples) {
      const { path, name } = sample;
      const wav = sampleWav(sample);
      const { notCarried } = wav;
      const key = this.keyOf(sample);
      const first = key === null ? undefined : this.firsts.get(key);
      if (first !== undefined) {
        files.set(sample, relativeFile(place, first));
        this.shared.push({ file: first, path, name, notCarried });
        continue;
      }
      const file = names.give(name, this.ending);
      files.set(sample, file);
      const at = `${place}/${file}`;
      if (key !== null) this.firsts.set(key, at);
      yield { kind: 'sample', file: at, path, name, volume, sample, wav, notCarried };
    }
    for (const program of folder.programs) yield this.takenProgram(program, place, names, files);
  }

  private takenProgram(
    program: SoundProgram,
    place: string,
    names: Names,
    files: ReadonlyMap<SoundSample, string>,
  ): TakenProgram {
    const { path, name } = program;
    const { text, notCarried } = sfzOf(program, (sample) => files.get(sample)!);
    const file = `${place}/${names.give(name, '.sfz')}`;
    return { kind: 'program', file, path, name, text, notCarried };
  }

  /** A folder of its own for each, below one that partitions share. */
  private placeOf(path: readonly string[]): string {
    const above = path.slice(0, -1);
    const parent = above.length > 0 ? this.sharedPlaceOf(above) : '';
    return `${parent}${this.namesIn(parent).give(path.at(-1)!)}`;
  }

  private sharedPlaceOf(path: readonly string[]): string {
    const key = path.join('/');
    let place = this.folders.get(key);
    if (place === undefined) {
      const above = path.slice(0, -1);
      const parent = above.length > 0 ? this.sharedPlaceOf(above) : '';
      place = `${parent}${this.namesIn(parent).give(path.at(-1)!)}/`;
      this.folders.set(key, place);
    }
    return place;
  }

  private namesIn(folder: string): Names {
    let names = this.names.get(folder);
    if (!names) this.names.set(folder, (names = new Names()));
    return names;
  }
}
