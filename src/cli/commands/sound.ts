/** `spindle sound`: the samples and programs of an image, taken out as WAV or FLAC and SFZ. */
import { said } from '@/core/said';
import { mkdir, realpath } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { toHex } from '@/core/digester';
import { framesOf, type SoundProgram, type SoundSample, type Sounds } from '@/core/sound/sound';
import { soundsIn, type Sounding } from '@/core/sound/sounds-of';
import {
  TakingOut,
  fileOf,
  type SoundEnding,
  type TakenProgram,
  type TakenSample,
} from '@/core/sound/taken-out';
import type { Volume } from '@/core/volume/volume';
import { tell, toldProblem } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { flacOf, flacProgram } from '@/node/flac';
import { makeFolder } from '../extract';
import { jsonText, writeNew, writeOut } from '../files';
import { openImage } from '../open-image';
import { shown } from '../paths';
import { severalAtOnce } from '../taking-out/several-at-once';
import { JobError, UsageError } from '../usage';
import { putSound } from './put-sound';

/** Digests of the frames of samples: those that were written have theirs from there. */
class FrameDigests {
  private readonly known = new Map<SoundSample, string>();

  note(sample: SoundSample, digest: string): void {
    this.known.set(sample, digest);
  }

  async of(volume: Volume, sample: SoundSample): Promise<string> {
    const known = this.known.get(sample);
    if (known !== undefined) return known;
    const hash = nodeDigester.sha256Stream();
    for await (const piece of framesOf(volume, sample)) hash.update(piece);
    return toHex(hash.digest());
  }
}

async function sampleJson(volume: Volume, sample: SoundSample, digests: FrameDigests) {
  const { path, name, rateHz, rateAssumed, rootNote, cents, channels, bits } = sample;
  const { frames, start, end, loops, playback, problems } = sample;
  return {
    path,
    name,
    rateHz,
    rateAssumed,
    rootNote,
    cents,
    channels,
    bits,
    frames,
    start,
    end,
    loops: loops.map(({ startFrame, endFrame, fine, hold, timeMs }) => ({
      startFrame,
      endFrame,
      fine,
      hold,
      timeMs,
    })),
    playback,
    pcmSha256: await digests.of(volume, sample),
    problems: problems.map(toldProblem),
  };
}

const programJson = ({ path, name, midiProgram, regions, problems }: SoundProgram) => ({
  path,
  name,
  midiProgram,
  regions: regions.map(({ sample, ...region }) => ({ sample: sample?.path ?? null, ...region })),
  problems: problems.map(toldProblem),
});

/** An entry for each partition; one for a volume that has none. */
async function volumesJson({ volume, sounds }: Sounding, digests: FrameDigests): Promise<object[]> {
  const partitions = new Map<string | null, Sounds['folders']>();
  for (const folder of sounds.folders) {
    const partition = folder.path.length > 1 ? folder.path[0]! : null;
    partitions.set(partition, [...(partitions.get(partition) ?? []), folder]);
  }
  if (partitions.size === 0) partitions.set(null, []);
  const all: object[] = [];
  for (const [partition, folders] of partitions) {
    const samples: object[] = [];
    for (const sample of folders.flatMap((folder) => folder.samples))
      samples.push(await sampleJson(volume, sample, digests));
    const programs = folders.flatMap((folder) => folder.programs).map(programJson);
    // What concerns the whole volume is told once.
    const isFirst = all.length === 0;
    const problems = isFirst ? [...volume.problems, ...sounds.problems].map(toldProblem) : [];
    all.push({ filesystem: volume.filesystem, partition, samples, programs, problems });
  }
  return all;
}

interface Written {
  samples: number;
  programs: number;
}

/** The program that packs, where that was asked. */
function packerFor(isPacked: boolean): string | null {
  const program = isPacked ? flacProgram() : null;
  if (isPacked && !program) throw new JobError(said('sound.flacIsNotThere'));
  return program;
}

/** A file with the folder that it goes into, which is there. */
interface Placed {
  taken: TakenSample | TakenProgram;
  path: string;
}

/** Folders are made one after the other, as their files are asked for. */
async function* placesOf(
  sounding: readonly Sounding[],
  root: string,
  ending: SoundEnding,
): AsyncGenerator<Placed> {
  const takingOut = new TakingOut({ ending });
  for (const { volume, sounds } of sounding)
    for (const folder of sounds.folders)
      for (const taken of takingOut.filesOf(volume, folder)) {
        const parts = taken.file.split('/');
        const last = parts.pop()!;
        yield { taken, path: join(await makeFolder(root, parts), last) };
      }
}

/** Files that are written at once: more than that wait for the disk, and not for one another. */
const AT_ONCE = 4;

/** Writes all sounds into a folder, and what became of each into its `manifest.json`. */
async function takeOut(
  sounding: readonly Sounding[],
  target: string,
  digests: FrameDigests,
  isPacked: boolean,
): Promise<Written> {
  const packer = packerFor(isPacked);
  await mkdir(target, { recursive: true });
  const root = await realpath(target);
  const written = { samples: 0, programs: 0 };
  const places = placesOf(sounding, root, packer ? '.flac' : '.wav');
  const files = await severalAtOnce(places, AT_ONCE, async (placed) => {
    const entry = await writeTaken(placed, digests, packer);
    if (placed.taken.kind === 'sample') written.samples++;
    else written.programs++;
    return entry;
  });
  await writeNew(join(root, 'manifest.json'), [new TextEncoder().encode(jsonText({ files }))]);
  return written;
}

async function writeTaken(
  { taken, path }: Placed,
  digests: FrameDigests,
  packer: string | null,
): Promise<object> {
  const { entry, bytes } = fileOf(taken, nodeDigester);
  const isPacked = packer !== null && taken.kind === 'sample';
  await writeNew(path, isPacked ? flacOf(packer, bytes, (why) => new JobError(why)) : bytes);
  if (taken.kind === 'sample') digests.note(taken.sample, entry.pcmSha256!);
  return { ...entry, notCarried: entry.notCarried.map(tell) };
}

function linesOf({ volume, sounds }: Sounding): string[] {
  const samples = sounds.folders.flatMap((folder) => folder.samples);
  const programs = sounds.folders.flatMap((folder) => folder.programs);
  const counts = { samples: samples.length, programs: programs.length };
  const problems = [
    ...volume.problems,
    ...sounds.problems,
    ...[...samples, ...programs].flatMap((each) => each.problems),
  ];
  return [
    tell(said('ofSounds.volumeHolds', { name: volume.filesystem, ...counts })),
    ...samples.map((sample) => `  ${sampleLine(sample)}`),
    ...problems.map((problem) => `  ${shown(tell(problem.said))}`),
  ];
}

function sampleLine(sample: SoundSample): string {
  const { path, frames, rateHz, rateAssumed, loops } = sample;
  return tell(
    said('ofSounds.sampleIs', {
      path: shown(path),
      seconds: (frames / rateHz).toFixed(3),
      rateHz,
      rateAssumed,
      loops: loops.length,
    }),
  );
}

/** A rate in hertz as it was given; undefined where none was. */
function rateFrom(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const rate = Number(text);
  if (!Number.isInteger(rate) || rate < 1 || rate > 1_000_000)
    throw new UsageError(said('ofSounds.isNoRate', { rate: text }));
  return rate;
}

export async function soundCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      json: { type: 'string' },
      out: { type: 'string' },
      flac: { type: 'boolean', default: false },
      rate: { type: 'string' },
      put: { type: 'string' },
      bank: { type: 'string' },
      wave: { type: 'string' },
      volume: { type: 'string' },
      name: { type: 'string' },
      to: { type: 'string' },
    },
  });
  const [path, ...more] = positionals;
  if (!path || more.length > 0)
    throw new UsageError(said('commands.takesOneImage', { command: 'sound' }));
  const rateHz = rateFrom(values.rate);
  const { put, bank, wave, volume, name, to, ...listed } = values;
  if (put !== undefined) return putSound(path, { put, bank, wave, volume, name, to, rateHz });
  if (listed.flac && listed.out === undefined) throw new UsageError(said('ofSounds.flacNeedsOut'));
  return listSounds(path, rateHz, listed);
}

async function listSounds(
  path: string,
  rateHz: number | undefined,
  values: { json?: string | undefined; out?: string | undefined; flac: boolean },
): Promise<void> {
  const source = await openImage(path);
  try {
    const { sounding, problems } = await soundsIn(source, rateHz);
    if (sounding.length === 0) throw new JobError(said('ofSounds.holdsNoSounds', { path }));
    const digests = new FrameDigests();
    const lines = [...problems.map((each) => shown(tell(each.said))), ...sounding.flatMap(linesOf)];
    if (values.out) {
      const written = await takeOut(sounding, values.out, digests, values.flac);
      lines.push(
        tell(said('ofSounds.writtenTo', { ...written, ofFlac: values.flac, folder: values.out })),
      );
    }
    if (values.json) {
      const volumes: object[] = [];
      for (const each of sounding) volumes.push(...(await volumesJson(each, digests)));
      await writeOut(values.json, jsonText({ volumes, problems: problems.map(toldProblem) }));
    }
    process.stderr.write(`${lines.join('\n')}\n`);
  } finally {
    await source.close();
  }
}
