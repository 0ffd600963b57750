/** Sounds put into sampler volumes: what becomes of their frames, pitch and loops, and what stays. */
import { blankSamplerDisk } from '../../../../tests/support/sound/sampler-disks';
import { loadVector } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { collect } from '../../volume/volume';
import { WritableSampler } from '../../volume/sampler/write';
import { VolumeRefusal } from '../../volume/writable';
import { framesOf, type SoundSample } from '../sound';
import { SoundRefusal, type SoundFile } from '../sound-file';
import { soundsIn } from '../sounds-of';
import { putSample } from './put-sample';

const RATE = 22_050;

const bytesOf = (values: readonly number[]) =>
  new Uint8Array(Int16Array.from(values).buffer.slice(0));

const sound = (values: readonly number[], over: Partial<SoundFile> = {}): SoundFile => ({
  format: 'wav',
  rateHz: RATE,
  channels: 1,
  bits: 16,
  coding: { kind: 'linear', bytes: 2, signed: true, bigEndian: false },
  frames: values.length,
  data: bytesOf(values),
  loops: [],
  soundsAt: null,
  remarks: [],
  ...over,
});

const ramp = (count: number) =>
  Array.from({ length: count }, (_, i) => ((i * 977) % 65_536) - 32_768);

function disk(): Uint8Array {
  const image = blankSamplerDisk(60);
  new WritableSampler(image).makeFolder('A/FOG');
  return image;
}

async function samplesIn(image: Uint8Array) {
  const { sounding, problems } = await soundsIn(memorySource(image));
  const [{ volume, sounds }] = sounding as [(typeof sounding)[0]];
  const samples = sounds.folders.flatMap((folder) => folder.samples);
  const programs = sounds.folders.flatMap((folder) => folder.programs);
  const pcmOf = (sample: SoundSample) => collect(framesOf(volume, sample));
  const named = (name: string) => samples.find((sample) => sample.name === name)!;
  return { samples, programs, problems: [...problems, ...volume.problems], pcmOf, named };
}

const PLACE = { volume: 'A/FOG', name: 'HORN' };

const codesOf = ({ remarks }: { remarks: { code: string }[] }) => remarks.map(({ code }) => code);

test('a sound of 16 bits goes in as it is, and is read back', async () => {
  const image = disk();
  const values = ramp(5000);
  const put = putSample(image, sound(values), PLACE);
  expect(put).toEqual({ path: 'A/FOG/HORN', frames: 5000, isReplaced: false, remarks: [] });
  const { samples, problems, pcmOf } = await samplesIn(image);
  expect(problems).toEqual([]);
  expect(samples).toHaveLength(1);
  expect(samples[0]).toMatchObject({
    name: 'HORN',
    rateHz: RATE,
    rateAssumed: false,
    rootNote: 60,
    cents: 0,
    frames: 5000,
    start: 0,
    end: 4999,
    loops: [],
    playback: 'no-loop',
    problems: [],
  });
  expect(Buffer.compare(await pcmOf(samples[0]!), bytesOf(values))).toBe(0);
});

test.each([
  [6000, 60, 0],
  [5950, 60, 50],
  [5951, 60, 49],
  [6049, 60, -49],
  [0, 0, 0],
  [12_700, 127, 0],
  [12_775, 127, -75],
])(
  'what sounds at %i cents has note %i and is tuned by %i cents',
  async (soundsAt, note, cents) => {
    const image = disk();
    putSample(image, sound(ramp(20), { soundsAt }), PLACE);
    const { rootNote, cents: own } = (await samplesIn(image)).named('HORN');
    expect([rootNote, own]).toEqual([note, cents]);
  },
);

test('loops are held, and more than eight are told', async () => {
  const image = disk();
  const loops = Array.from({ length: 10 }, (_, i) => ({
    startFrame: 10 * i,
    endFrame: 10 * i + 9,
  }));
  const put = putSample(image, sound(ramp(200), { loops }), PLACE);
  expect(codesOf(put)).toEqual(['sound.moreLoopsThanFit']);
  const { loops: own, playback, problems } = (await samplesIn(image)).named('HORN');
  expect(own.map(({ startFrame, endFrame, hold }) => [startFrame, endFrame, hold])).toEqual(
    loops.slice(0, 8).map(({ startFrame, endFrame }) => [startFrame, endFrame, true]),
  );
  expect([playback, problems]).toEqual(['loop-through-release', []]);
});

test('channels are mixed, and a rate that no header holds is brought to one, loops too', async () => {
  const image = disk();
  const stereo = Array.from({ length: 2 * 8820 }, (_, i) => (i % 2 === 0 ? 2000 : -1000));
  const put = putSample(
    image,
    sound(stereo, {
      channels: 2,
      frames: 8820,
      rateHz: 88_200,
      loops: [{ startFrame: 2000, endFrame: 8000 }],
    }),
    PLACE,
  );
  expect(codesOf(put)).toEqual(['sound.isMixedToOne', 'sound.isBroughtToRate']);
  const { pcmOf, named } = await samplesIn(image);
  const sample = named('HORN');
  expect([sample.rateHz, sample.frames]).toEqual([44_100, 4410]);
  expect(sample.loops.map(({ startFrame, endFrame }) => [startFrame, endFrame])).toEqual([
    [1000, 4000],
  ]);
  const pcm = new Int16Array((await pcmOf(sample)).slice().buffer);
  // The mean of both, but for the dither and for where the sound begins and ends.
  for (const value of pcm.subarray(200, -200)) expect(Math.abs(value - 500)).toBeLessThan(3);
});

test('eight bits are shifted up, and not dithered', async () => {
  const image = disk();
  const data = Uint8Array.of(0, 1, 127, 128, 129, 255);
  const coding = { kind: 'linear', bytes: 1, signed: false, bigEndian: false } as const;
  putSample(image, sound([], { bits: 8, coding, data, frames: 6 }), PLACE);
  const { pcmOf, named } = await samplesIn(image);
  expect([...new Int16Array((await pcmOf(named('HORN'))).slice().buffer)]).toEqual(
    [-128, -127, -1, 0, 1, 127].map((value) => 256 * value),
  );
});

/** A sample with a header of 192 bytes, two loops and a pitch of its own, as a machine left it. */
function withOwnSample(): Uint8Array {
  const image = disk();
  const file = new Uint8Array(192 + 2 * 1000);
  const view = new DataView(file.buffer);
  file.set([3, 1, 48, 18, 25, 28, 24, 10, 10, 10, 10, 10, 10, 10, 10, 0x80, 2, 7]);
  file[19] = 1;
  view.setInt8(20, -12);
  view.setInt8(21, 2);
  view.setUint32(26, 1000, true);
  view.setUint32(34, 999, true);
  for (const [i, end] of [300, 900].entries()) {
    view.setUint32(38 + 12 * i, end, true);
    view.setUint16(38 + 12 * i + 4, 32_768, true);
    view.setUint32(38 + 12 * i + 6, 100, true);
    view.setUint16(38 + 12 * i + 10, 9999, true);
  }
  view.setUint16(138, 30_000, true);
  file[180] = 77;
  new WritableSampler(image).put('A/FOG/HORN', file);
  return image;
}

test('in the place of another it keeps what the sound does not say', async () => {
  const image = withOwnSample();
  const put = putSample(image, sound(ramp(500)), PLACE);
  expect([put.isReplaced, codesOf(put)]).toEqual([true, ['sound.loopsLieNowhere']]);
  const sample = (await samplesIn(image)).named('HORN');
  expect(sample).toMatchObject({
    rootNote: 48,
    cents: 188,
    rateHz: RATE,
    frames: 500,
    end: 499,
    playback: 'loop-until-release',
    headerBytes: 192,
    problems: [],
  });
  expect(sample.loops).toEqual([
    { startFrame: 200, endFrame: 300, fine: 32_768, hold: true, timeMs: 9999 },
  ]);
  // What no facts tell of stays as the machine left it.
  const file = new WritableSampler(image).read('A/FOG/HORN')!;
  expect([file[17], file[180]]).toEqual([7, 77]);
});

test('a larger header is kept whole, though its file is longer than it says', () => {
  const image = withOwnSample();
  const volume = new WritableSampler(image);
  const file = new Uint8Array(volume.read('A/FOG/HORN')!.length + 40);
  file.set(volume.read('A/FOG/HORN')!);
  // The entry says that it is larger, as its length alone would not.
  const at = image.indexOf(0xf3, 3 * 8192);
  volume.put('A/FOG/HORN', file);
  image[at] = 0xf3;
  expect(volume.hasLargerHeader('A/FOG/HORN')).toBe(true);
  putSample(image, sound(ramp(500)), PLACE);
  const after = new WritableSampler(image);
  expect([after.hasLargerHeader('A/FOG/HORN'), after.read('A/FOG/HORN')![180]]).toEqual([true, 77]);
});

test('a sound that says its pitch replaces the other’s, and its loops too', async () => {
  const image = withOwnSample();
  putSample(image, sound(ramp(1000), { soundsAt: 6000 }), PLACE);
  const { rootNote, cents, loops, playback } = (await samplesIn(image)).named('HORN');
  expect([rootNote, cents, loops, playback]).toEqual([60, 0, [], 'no-loop']);
});

test('programs of a disk made elsewhere play what took a sample’s place', async () => {
  const image = loadVector('sound/p-missing.img').slice();
  const before = await samplesIn(image);
  const played = before.programs
    .flatMap(({ regions }) => regions)
    .find(({ sample }) => sample !== null)!.sample!;
  const [partition, folder] = played.path.split('/') as [string, string];
  const values = ramp(40);
  putSample(image, sound(values), { volume: `${partition}/${folder}`, name: played.name });
  const after = await samplesIn(image);
  const regionsOf = ({ programs }: typeof before) =>
    programs.flatMap(({ regions }) =>
      regions.map(({ sample, ...region }) => ({ ...region, sample: sample?.path ?? null })),
    );
  expect(regionsOf(after)).toEqual(regionsOf(before));
  expect(Buffer.compare(await after.pcmOf(after.named(played.name)), bytesOf(values))).toBe(0);
  for (const sample of before.samples.filter(({ path }) => path !== played.path))
    expect(
      Buffer.compare(await after.pcmOf(after.named(sample.name)), await before.pcmOf(sample)),
    ).toBe(0);
});

test.each<[string, () => unknown]>([
  ['sound.holdsNoFrame', () => putSample(disk(), sound([]), PLACE)],
  ['sampler.hasBlocksFree', () => putSample(disk(), sound(ramp(300_000)), PLACE)],
  ['volume.thereIsNoFolder', () => putSample(disk(), sound([1]), { ...PLACE, volume: 'A/NONE' })],
  [
    'sound.isNoSample',
    () => {
      const image = disk();
      new WritableSampler(image).put('A/FOG/HORN', Uint8Array.of(1), { type: 'p' });
      return putSample(image, sound([1]), PLACE);
    },
  ],
])('%s', (code, put) => {
  let told: string | null = null;
  try {
    put();
  } catch (error) {
    if (error instanceof SoundRefusal || error instanceof VolumeRefusal) told = error.said.code;
    else throw error;
  }
  expect(told).toBe(code);
});
