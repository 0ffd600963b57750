/** Sounds put into banks: where they go, what they become, and what is left as it is. */
import { WAVESAMPLE_BYTES, placeOf } from '../../volume/wavesample/banks';
import { loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { SoundRefusal, type SoundFile } from '../sound-file';
import { readWav } from '../wav/read';
import { putWave, type PutAsked } from './put-wave';

const RATE = 29_411;
const SECTOR = 1024;
const SAMPLES = 65_536;
const LOWER_2 = 2;

const sound = (data: Uint8Array, over: Partial<SoundFile> = {}): SoundFile => ({
  format: 'wav',
  rateHz: RATE,
  channels: 1,
  bits: 8,
  coding: { kind: 'linear', bytes: 1, signed: false, bigEndian: false },
  frames: data.length,
  data,
  loops: [],
  soundsAt: null,
  remarks: [],
  ...over,
});
const asked = (over: Partial<PutAsked> = {}): PutAsked => ({
  bank: 'lower 2',
  wave: null,
  rateHz: RATE,
  ...over,
});

/** A floppy of silence with waves at some places of its third bank. */
function floppy(...waves: [from: number, length: number][]): Uint8Array {
  const image = new Uint8Array(WAVESAMPLE_BYTES).map((_, i) => (i < 11_264 ? i % 251 : 0));
  for (const [from, length] of waves)
    for (let at = from; at < from + length; at++) image[placeOf(LOWER_2, SECTOR + at)] = 200;
  return image;
}
const bank = (image: Uint8Array) =>
  Uint8Array.from({ length: SAMPLES }, (_, at) => image[placeOf(LOWER_2, SECTOR + at)]!);

function refusal(put: () => unknown): string | null {
  try {
    put();
  } catch (error) {
    if (error instanceof SoundRefusal) return error.said.code;
    throw error;
  }
  return null;
}

test('a sound of 8 bits goes in byte for byte behind the last wave, its zeros as 01h', () => {
  const image = floppy([0, 1000], [2000, 500]);
  const {
    image: out,
    wave,
    from,
    to,
  } = putWave(image, sound(Uint8Array.of(0, 9, 0, 255)), asked());
  expect([wave, from, to]).toEqual([3, 2756, 2760]);
  const wanted = bank(image);
  wanted.set([1, 9, 1, 255], 2756);
  expect(sha256Hex(bank(out))).toBe(sha256Hex(wanted));
  const changed = out.filter((byte, i) => byte !== image[i]).length;
  expect(changed).toBe(4);
});

test('in the place of a wave it begins where that began, and nothing of it is left', () => {
  const image = floppy([0, 1000], [2000, 500], [4000, 100]);
  const { image: out, from } = putWave(image, sound(Uint8Array.of(7, 7)), asked({ wave: 2 }));
  expect(from).toBe(2000);
  const wanted = bank(image).fill(0, 2000, 2500);
  wanted.set([7, 7], 2000);
  expect(sha256Hex(bank(out))).toBe(sha256Hex(wanted));
});

test.each([
  [
    'up to 256 zeros before the next',
    [
      [0, 10],
      [5000, 9],
    ],
    { wave: 1 },
    4744,
    null,
  ],
  [
    'a frame further',
    [
      [0, 10],
      [5000, 9],
    ],
    { wave: 1 },
    4745,
    'sound.doesNotFit',
  ],
  ['up to the end of the bank', [[0, 10]], {}, SAMPLES - 266, null],
  ['past the end of the bank', [[0, 10]], {}, SAMPLES - 265, 'sound.doesNotFit'],
  ['into an empty bank, all of it', [], {}, SAMPLES, null],
  ['as the wave behind the next', [[0, 10]], { wave: 3 }, 5, 'sound.bankHasNoSuchWave'],
  ['as no wave', [[0, 10]], { wave: 0 }, 5, 'sound.bankHasNoSuchWave'],
  ['into a bank that is not there', [], { bank: 'lower 4' }, 5, 'sound.thereIsNoBank'],
] as [string, [number, number][], Partial<PutAsked>, number, string | null][])(
  '%s',
  (_, waves, over, length, code) => {
    const put = () =>
      putWave(floppy(...waves), sound(new Uint8Array(length).fill(130)), asked(over));
    expect(refusal(put)).toBe(code);
  },
);

test('of another size is no wavesample floppy', () =>
  expect(refusal(() => putWave(new Uint8Array(1000), sound(Uint8Array.of(1)), asked()))).toBe(
    'sound.isNoWavesampleImage',
  ));

test('two channels of 16 bits are mixed, brought to the rate, and hold no stop', () => {
  const frames = 44_100;
  const data = new Int16Array(2 * frames).map((_, i) =>
    Math.round(32_767 * Math.sin((2 * Math.PI * 440 * (i >> 1)) / 44_100)),
  );
  const stereo = sound(new Uint8Array(data.buffer), {
    rateHz: 44_100,
    channels: 2,
    bits: 16,
    coding: { kind: 'linear', bytes: 2, signed: true, bigEndian: false },
    frames,
  });
  const { image, from, to } = putWave(floppy(), stereo, asked());
  expect(to - from).toBe(RATE);
  const written = bank(image).subarray(from, to);
  expect(written.every((byte) => byte > 0)).toBe(true);
  const off = written.reduce((sum, byte, i) => {
    const wanted = Math.max(1, 128 + 128 * Math.sin((2 * Math.PI * 440 * i) / RATE));
    return sum + Math.abs(byte - wanted);
  }, 0);
  // Rounding is a quarter of a step in the mean, dither by a step to each side a half.
  expect(off / written.length).toBeLessThan(1);
});

test('the case made apart from this code', () => {
  const wav = readWav(loadVector('sound/put-8bit.wav'));
  const { image, wave, from, to } = putWave(
    loadVector('sound/w-gaps.img'),
    wav,
    asked({ bank: 'upper 1' }),
  );
  const put = Uint8Array.from(
    { length: to - from },
    (_, i) => image[placeOf(1, SECTOR + from + i)]!,
  );
  expect([wave, put.length, sha256Hex(put)]).toEqual([
    4,
    2999,
    '8059dca8c65f013ac0ebb1b62647d355820a06b80ce94b90484614fdfcd943a1',
  ]);
});
