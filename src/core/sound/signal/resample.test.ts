/** Resampling, held against a Fourier transform of its own. */
import { framesAt, resample } from './resample';

const RATE = 44_100;
const BANK = 29_411;
const TONE = 1000;
/** What remains beside the tone must lie this far below it. */
const BELOW = 1e-4;

const sine = (hertz: number, rate: number, frames: number) =>
  Float64Array.from({ length: frames }, (_, i) => Math.sin((2 * Math.PI * hertz * i) / rate));

/** A window whose side lobes lie below −110 dB (Nuttall, 1981: four terms). */
const windowAt = (i: number, length: number) => {
  const x = (2 * Math.PI * i) / (length - 1);
  return (
    0.355768 - 0.487396 * Math.cos(x) + 0.144232 * Math.cos(2 * x) - 0.012604 * Math.cos(3 * x)
  );
};

/** Fast Fourier transform in place, of a power of two. */
function transform(re: Float64Array, im: Float64Array): void {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      [re[i], re[j]] = [re[j]!, re[i]!];
      [im[i], im[j]] = [im[j]!, im[i]!];
    }
  }
  for (let size = 2; size <= n; size *= 2)
    for (let start = 0; start < n; start += size)
      for (let k = 0; k < size / 2; k++) {
        const angle = (-2 * Math.PI * k) / size;
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        const [a, b] = [start + k, start + k + size / 2];
        const [x, y] = [re[b]! * c - im[b]! * s, re[b]! * s + im[b]! * c];
        re[b] = re[a]! - x;
        im[b] = im[a]! - y;
        re[a] = re[a]! + x;
        im[a] = im[a]! + y;
      }
}

/** Amplitudes of the middle of a sound, by bin. */
function spectrum(values: Float64Array, length = 16_384): Float64Array {
  const from = (values.length - length) >> 1;
  const re = Float64Array.from({ length }, (_, i) => values[from + i]! * windowAt(i, length));
  const im = new Float64Array(length);
  transform(re, im);
  return re.slice(0, length / 2).map((x, i) => Math.hypot(x, im[i]!));
}

/** The most of a spectrum that lies not about a frequency, as a share of what does. */
function beside(values: Float64Array, hertz: number, rate: number): number {
  const amplitudes = spectrum(values);
  const bin = (hertz / rate) * 2 * amplitudes.length;
  const most = (holds: (away: number) => boolean) =>
    amplitudes.reduce((max, each, i) => (holds(Math.abs(i - bin)) ? Math.max(max, each) : max), 0);
  return most((away) => away > 6) / most((away) => away <= 6);
}

test('a tone goes down to another rate and back with nothing beside it', () => {
  const there = resample(sine(TONE, RATE, RATE), RATE, BANK);
  expect(there).toHaveLength(BANK);
  expect(beside(there, TONE, BANK)).toBeLessThan(BELOW);
  const back = resample(there, BANK, RATE);
  expect(back).toHaveLength(RATE);
  expect(beside(back, TONE, RATE)).toBeLessThan(BELOW);
});

test('it keeps its loudness', () => {
  const there = resample(sine(TONE, RATE, RATE), RATE, BANK);
  const expected = sine(TONE, BANK, BANK);
  const worst = expected.reduce(
    (most, value, i) =>
      i < 500 || i > BANK - 500 ? most : Math.max(most, Math.abs(value - there[i]!)),
    0,
  );
  expect(worst).toBeLessThan(1e-4);
});

test.each([16_000, 20_000])(
  'of a tone of %d Hz, which the rate can not hold, nothing is left',
  (hertz) => {
    const there = resample(sine(hertz, RATE, RATE), RATE, BANK);
    const loudest = there
      .subarray(500, BANK - 500)
      .reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    expect(loudest).toBeLessThan(BELOW);
  },
);

test('at the same rate the same values are given', () => {
  const values = sine(TONE, RATE, 100);
  expect(resample(values, RATE, RATE)).toBe(values);
});

test.each([
  [3, 44_100, 29_411, 2],
  [1, 44_100, 8000, 0],
  [0, 44_100, 8000, 0],
])('%d frames at %d Hz are, at %d Hz, %d', (frames, from, to, wanted) => {
  expect(framesAt(frames, from, to)).toBe(wanted);
  expect(resample(new Float64Array(frames), from, to)).toHaveLength(wanted);
});
