/** Waves put into banks and taken out: places, room, names, and every other byte left as it is. */
import { memorySource } from '@/core/bits/byte-source';
import { seededRandom } from '@/core/bits/random';
import { fitFiles } from '@/core/assembly/fitting';
import { readWav } from '@/core/sound/wav/read';
import { soundByPath } from '@/core/sound/sound-by-path';
import { waveFile } from '@/core/sound/wavesample/put-wave';
import { listVolume } from '@/core/assembly/listed';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { writableVolume } from '@/core/identify/writable-volume';
import { strictWav } from '../../../../tests/support/sound/strict-wav';
import { loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { refusalOf } from '../../../../tests/support/edits/refusal';
import { BANKS, PART, SAMPLES, WAVESAMPLE_BYTES, bankOf, setBank, wavesOf } from './banks';
import { openWavesample, probeWavesample } from './read';
import { WritableWavesample } from './write';

/** A floppy whose bank holds these waves, each of one value. */
function floppy(bank: number, ...waves: [from: number, length: number][]): Uint8Array {
  const image = new Uint8Array(WAVESAMPLE_BYTES).map((_, i) => (i < 11_264 ? i % 251 : 0));
  const samples = new Uint8Array(SAMPLES);
  for (const [from, length] of waves) samples.fill(140, from, from + length);
  setBank(image, bank, samples);
  return image;
}
const tone = (length: number, value = 120) => new Uint8Array(length).fill(value);
const wavesIn = (image: Uint8Array, bank: number) => wavesOf(bankOf(image, bank));

test('the case made apart from this code: a sound of 8 bits behind the last wave', () => {
  const volume = new WritableWavesample(loadVector('sound/w-gaps.img').slice());
  const { file, remarks } = waveFile(readWav(loadVector('sound/put-8bit.wav')));
  volume.put('upper-1/wave-4', file);
  const [from, to] = wavesIn(volume.image, 1)[3]!;
  expect([remarks, sha256Hex(bankOf(volume.image, 1).subarray(from, to))]).toEqual([
    [],
    '8059dca8c65f013ac0ebb1b62647d355820a06b80ce94b90484614fdfcd943a1',
  ]);
});

test('a wave goes behind the last, in the place of another, and out again; nothing else changes', () => {
  const image = floppy(3, [0, 1000], [4000, 500]);
  const before = image.slice();
  const volume = new WritableWavesample(image);
  volume.put('upper-2/wave-3', tone(700));
  volume.put('upper-2/wave-1', tone(3000));
  expect(wavesIn(image, 3)).toEqual([
    [0, 3000],
    [4000, 4500],
    [4500 + PART, 4500 + PART + 700],
  ]);
  volume.remove('upper-2/wave-2');
  // Places, not names: what was the third is the second now.
  expect(wavesIn(image, 3)).toEqual([
    [0, 3000],
    [4500 + PART, 4500 + PART + 700],
  ]);
  for (const [bank] of BANKS.entries())
    if (bank !== 3) expect(Buffer.compare(bankOf(image, bank), bankOf(before, bank))).toBe(0);
  expect(Buffer.compare(image.subarray(0, 11_264), before.subarray(0, 11_264))).toBe(0);
});

test('a zero would stop a wave: it is put as the value above', () => {
  const volume = new WritableWavesample(floppy(0));
  volume.put('lower-1/wave-1', Uint8Array.of(9, 0, 0, 9));
  expect([...bankOf(volume.image, 0).subarray(0, 5)]).toEqual([9, 1, 1, 9, 0]);
});

test.each([
  ['more than lies before the next', 'lower-1/wave-1', 3745, 'full'],
  ['as much as lies before the next', 'lower-1/wave-1', 3744, null],
  ['more than the bank has left', 'lower-1/wave-3', SAMPLES - 4755, 'full'],
  ['as much as the bank has left', 'lower-1/wave-3', SAMPLES - 4756, null],
  ['nothing', 'lower-1/wave-3', 0, 'kind'],
  ['behind the next', 'lower-1/wave-4', 5, 'name'],
  ['by a name', 'lower-1/BELL', 5, 'name'],
  ['as wave nought', 'lower-1/wave-0', 5, 'name'],
  ['beside the banks', 'wave-1', 5, 'no-folders'],
  ['into a bank that is none', 'lower-4/wave-1', 5, 'no-folders'],
  ['deeper', 'lower-1/wave-1/wave-1', 5, 'no-folders'],
])('put %s', (_, path, length, wanted) => {
  const image = floppy(0, [0, 1000], [4000, 500]);
  const before = image.slice();
  const came = refusalOf(() => new WritableWavesample(image).put(path, tone(length)));
  expect(came).toBe(wanted);
  if (came) expect(Buffer.compare(image, before)).toBe(0);
});

test('what it has not is refused', () => {
  const volume = new WritableWavesample(floppy(0, [0, 1000]));
  expect(refusalOf(() => volume.remove('lower-1/wave-2'))).toBe('missing');
  expect(refusalOf(() => volume.rename())).toBe('name');
  expect(refusalOf(() => volume.makeFolder())).toBe('no-folders');
  expect(refusalOf(() => volume.setAttributes())).toBe('kind');
  expect(refusalOf(() => new WritableWavesample(new Uint8Array(1000)))).toBe('damaged');
});

test('files of any name become the next waves of their bank', () => {
  const volume = new WritableWavesample(floppy(0, [0, 1000]));
  const wished = [
    { name: 'Low horn.wav', bytes: 500 },
    { name: 'wave-1', bytes: 500 },
  ];
  const fitted = fitFiles(volume, 'lower-1', new Set(['wave-1']), wished);
  expect(fitted.map(({ path, fits }) => [path, fits])).toEqual([
    ['lower-1/wave-2', true],
    ['lower-1/wave-3', true],
  ]);
  // That a wave is called otherwise than wished is told, though its name could stand.
  expect(fitted.map(({ renamed }) => renamed?.code)).toEqual([
    'volume.isCalledByItsPlace',
    'volume.isCalledByItsPlace',
  ]);
  expect(fitFiles(volume, '', new Set(), wished).every(({ fits }) => !fits)).toBe(true);
});

test('a blank has six banks to put waves into, though nothing on it tells what it is', async () => {
  const kind = BLANK_KINDS.find(({ id }) => id === 'wavesample')!;
  const image = makeBlank(kind);
  expect(await writableVolume(image)).toBeNull();
  const paths = async () =>
    (await listVolume(memorySource(image), null, kind.id)).entries.map(({ path }) => path);
  expect(await paths()).toEqual([...BANKS]);
  const volume = (await writableVolume(image, kind.id))!;
  expect(volume.room().free).toBe(6 * SAMPLES);
  volume.put('upper-3/wave-1', tone(2000));
  expect((await paths()).at(-1)).toBe('upper-3/wave-1');
  const { freeBytes } = await openWavesample(memorySource(image));
  expect(freeBytes).toBe(volume.room().free);
});

test('what is put into a blank is heard by its kind, though it is noise and looks like no sound', async () => {
  const kind = BLANK_KINDS.find(({ id }) => id === 'wavesample')!;
  const image = makeBlank(kind);
  const random = seededRandom('noise');
  const noise = Uint8Array.from({ length: 3000 }, () => 1 + random.below(255));
  (await writableVolume(image, kind.id))!.put('lower-2/wave-1', noise);
  const path = 'lower-2/wave-1';
  const source = memorySource(image);
  expect(await soundByPath(source, { path, kind: null })).toBeNull();
  const wav = (await soundByPath(source, { path, kind: kind.id }))!;
  expect(strictWav(Buffer.from(wav)).data).toEqual(Buffer.from(noise));
  expect(await soundByPath(source, { path: 'lower-2/wave-2', kind: kind.id })).toBeNull();
});

test('room is what lies behind the last wave of each bank', () => {
  const volume = new WritableWavesample(floppy(2, [0, 1000]));
  const { total, free } = volume.room();
  expect([total, free]).toEqual([6 * SAMPLES, 6 * SAMPLES - 1000 - PART]);
});

test.each([0, 3, 5])(
  'a floppy that sounds in bank %i only is known, and can be changed',
  async (bank) => {
    const image = floppy(bank);
    const samples = new Uint8Array(SAMPLES).map((_, i) =>
      i < 9000 ? Math.round(128 + 60 * Math.sin(i / 20)) : 0,
    );
    setBank(image, bank, samples);
    expect((await probeWavesample(memorySource(image)))!.confidence).toBeGreaterThanOrEqual(0.6);
    expect((await writableVolume(image))!.filesystem).toBe('wavesample');
  },
);

test('random changes against a model of each bank', async () => {
  const random = seededRandom('wavesample');
  const image = floppy(0);
  const volume = new WritableWavesample(image);
  const model = BANKS.map((): Uint8Array[] => []);
  for (let step = 0; step < 300; step++) {
    const bank = random.below(BANKS.length);
    const own = model[bank]!;
    if (own.length > 0 && random.below(3) === 0) {
      // The last only: in its stead nothing moves up.
      volume.remove(`${BANKS[bank]}/wave-${own.length}`);
      own.pop();
      continue;
    }
    const wave = tone(1 + random.below(3000), 1 + random.below(255));
    const path = `${BANKS[bank]}/wave-${own.length + 1}`;
    if (refusalOf(() => volume.put(path, wave)) === null) own.push(wave);
    else expect(own.reduce((sum, { length }) => sum + length + PART, 0)).toBeGreaterThan(62_000);
  }
  const { entries, ...read } = await openWavesample(memorySource(image));
  for (const [bank, waves] of model.entries()) {
    const there = entries.filter(({ path }) => path.startsWith(`${BANKS[bank]}/`));
    expect(there.map(({ bytes }) => bytes)).toEqual(waves.map(({ length }) => length));
    const last = there.at(-1);
    if (!last) continue;
    const bytes = last.extents.flatMap(({ offset, length }) => [
      ...image.subarray(offset, offset + length),
    ]);
    expect(bytes).toEqual([...waves.at(-1)!]);
  }
  expect(read.problems).toEqual([]);
});
