/** Sampler volumes and wavesample floppies against cases that were made apart from this code. */
import { createHash } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { loadVector } from '../../../tests/support/vectors';
import { strictSfz, type StrictRegion } from '../../../tests/support/sound/strict-sfz';
import { strictWav } from '../../../tests/support/sound/strict-wav';
import { memorySource } from '../bits/byte-source';
import { identifyVolumes } from '../identify/identify';
import { collect, type Volume } from '../volume/volume';
import { framesOf, type SoundProgram, type SoundSample } from './sound';
import { soundsOf } from './sounds-of';
import { TakingOut, type TakenProgram, type TakenSample } from './taken-out';

const FOLDER = join(process.cwd(), 'tests', 'vectors', 'sound');

interface ExpectedSample {
  path: string;
  name: string;
  loops: object[];
  pcmSha256: string;
  free?: string[];
  told?: boolean;
  notCarried?: boolean;
  wav: { optional?: boolean; unity: number; fraction: number; loops: { start: number }[] };
  [field: string]: unknown;
}

interface ExpectedRegion {
  sample: string | null;
  sampleName: string;
  cents: number;
  sfz?: {
    keyCents: number;
    modes: string[];
    loops: [number, number][];
    offset?: number;
    end?: number;
    defaultOffset: number;
    defaultEnd: number;
  };
}

interface Case {
  case: string;
  image: string;
  samples?: ExpectedSample[];
  programs?: { path: string; midiProgram: number; regions: ExpectedRegion[]; told?: boolean }[];
  problems?: string[];
  tolerated?: boolean;
  put?: object;
}

const CASES = readdirSync(FOLDER)
  .filter((name) => name.endsWith('.expect.json'))
  .map((name) => JSON.parse(readFileSync(join(FOLDER, name), 'utf8')) as Case)
  .filter(({ put }) => !put);

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');

async function open(image: string) {
  const source = memorySource(loadVector(`sound/${image}`));
  const { volumes } = await identifyVolumes(source);
  const { volume, length } = volumes[0]!;
  const sounds = (await soundsOf(volume, { imageBytes: length }))!;
  const takingOut = new TakingOut();
  const taken = sounds.folders.flatMap((folder) => [...takingOut.filesOf(volume, folder)]);
  return { volume, sounds, taken };
}

async function wavOf({ sample, wav, volume }: TakenSample): Promise<Buffer> {
  const frames = await collect(framesOf(volume, sample));
  return Buffer.concat([wav.head, frames, wav.tail]);
}

async function checkSample(taken: TakenSample, volume: Volume, wanted: ExpectedSample) {
  const { sample } = taken;
  const { wav, free = [], pcmSha256, told, notCarried } = wanted;
  const isLeft = (field: string) =>
    ['wav', 'free', 'told', 'notCarried', 'pcmSha256'].includes(field);
  for (const [field, value] of Object.entries(wanted)) {
    if (isLeft(field) || free.includes(field)) continue;
    const own = (sample as unknown as Record<string, unknown>)[field];
    const bare = field === 'loops' ? sample.loops.map(({ fine: _fine, ...loop }) => loop) : own;
    expect({ path: sample.path, [field]: bare }).toEqual({ path: wanted.path, [field]: value });
  }
  expect(sha256(await collect(framesOf(volume, sample)))).toBe(pcmSha256);
  if (told) expect(sample.problems.length).toBeGreaterThan(0);
  if (notCarried) expect(taken.notCarried.length).toBeGreaterThan(0);
  const written = strictWav(await wavOf(taken));
  expect(sha256(written.data)).toBe(pcmSha256);
  const { unity, fraction } = written;
  const loops = written.loops.sort((a, b) => a.start - b.start);
  expect({ unity, loops }).toEqual({ unity: wav.unity, loops: wav.loops });
  // A two hundredth of a cent.
  expect(Math.abs(fraction! - wav.fraction)).toBeLessThan(2 ** 32 / 100 / 200);
}

function checkRegion(region: StrictRegion, wanted: NonNullable<ExpectedRegion['sfz']>) {
  const number = (name: string, otherwise: number) => (region[name] as number) ?? otherwise;
  expect(wanted.modes).toContain(region.loop_mode);
  expect(
    100 * number('transpose', 0) + number('tune', 0) - 100 * number('pitch_keycenter', 60),
  ).toBe(wanted.keyCents);
  if (wanted.loops.length > 0)
    expect(wanted.loops).toContainEqual([region.loop_start, region.loop_end]);
  expect([number('offset', wanted.defaultOffset), number('end', wanted.defaultEnd)]).toEqual([
    wanted.offset ?? wanted.defaultOffset,
    wanted.end ?? wanted.defaultEnd,
  ]);
}

describe.each(CASES.map((each) => [each.case, each] as const))('%s', (_, wanted) => {
  const samples = wanted.samples ?? [];
  const programs = wanted.programs ?? [];

  test('each sample is as it was made, and its WAV has all of it', async () => {
    const { volume, taken } = await open(wanted.image);
    const found = taken.filter((each): each is TakenSample => each.kind === 'sample');
    expect(found.map(({ path }) => path).sort()).toEqual(samples.map(({ path }) => path).sort());
    for (const sample of samples)
      await checkSample(
        found.find(({ path }) => path === sample.path)!,
        volume,
        sample,
      );
  });

  test('each program has its regions, and its SFZ those that can sound', async () => {
    const { sounds, taken } = await open(wanted.image);
    const found: SoundProgram[] = sounds.folders.flatMap((folder) => folder.programs);
    expect(found.map(({ path }) => path).sort()).toEqual(programs.map(({ path }) => path).sort());
    for (const program of programs) {
      const own = found.find(({ path }) => path === program.path)!;
      expect(own.midiProgram).toBe(program.midiProgram);
      if (program.told) expect(own.problems.length).toBeGreaterThan(0);
      const named = own.regions.map(({ sample, sampleName, cents }) => ({
        sample: sample?.path ?? null,
        sampleName,
        cents,
      }));
      expect(named).toEqual(
        program.regions.map(({ sample, sampleName, cents }) => ({ sample, sampleName, cents })),
      );
      const text = taken.find(
        (each): each is TakenProgram => each.kind === 'program' && each.path === program.path,
      )!;
      const regions = strictSfz(text.text);
      const sounding = program.regions.filter(({ sfz }) => sfz);
      expect(regions).toHaveLength(sounding.length);
      for (const [i, { sfz }] of sounding.entries()) checkRegion(regions[i]!, sfz!);
    }
  });

  test('damage is told, and of what is sound none', async () => {
    const { volume, sounds } = await open(wanted.image);
    const files = sounds.folders.flatMap((folder): (SoundSample | SoundProgram)[] => [
      ...folder.samples,
      ...folder.programs,
    ]);
    const told = [
      ...volume.problems,
      ...sounds.problems,
      ...files.flatMap((each) => each.problems),
    ];
    const isHurt = (wanted.problems ?? []).length > 0;
    if (!wanted.tolerated || isHurt) expect(told.length > 0).toBe(isHurt);
  });

  test('every file has a name of its own that stands anywhere', async () => {
    const { taken } = await open(wanted.image);
    const names = taken.map(({ file }) => file.toLowerCase());
    expect(new Set(names).size).toBe(names.length);
    for (const part of names.flatMap((name) => name.split('/'))) {
      expect(part).toMatch(/^(?![ #])[a-z0-9 _+\-.()#]*[^ .]$/);
      expect(part).not.toMatch(/^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/);
      expect(part.length).toBeLessThanOrEqual(200);
    }
  });
});
