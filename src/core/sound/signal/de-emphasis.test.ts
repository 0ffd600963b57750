/** Pre-emphasis taken out, held against the curve of IEC 60908 as published. */
import { DeEmphasis } from './de-emphasis';

const RATE = 44_100;
const SECONDS = 0.5;

const pcm = (values: readonly number[]) => new Uint8Array(Int16Array.from(values).buffer);

function valuesOf(bytes: Uint8Array): number[] {
  const values: number[] = [];
  for (let at = 0; at < bytes.length; at += 3)
    values.push(bytes[at]! | (bytes[at + 1]! << 8) | ((bytes[at + 2]! << 24) >> 8));
  return values;
}

/** How strong one frequency is in what went through, by its Fourier sum. */
function strength(values: readonly number[], hz: number): number {
  let [re, im] = [0, 0];
  for (const [n, value] of values.entries()) {
    re += value * Math.cos((2 * Math.PI * hz * n) / RATE);
    im += value * Math.sin((2 * Math.PI * hz * n) / RATE);
  }
  return (2 * Math.hypot(re, im)) / values.length;
}

test.each([
  [100, 0],
  [1000, -0.37],
  [5000, -4.53],
  [10_000, -7.6],
  [16_000, -9.04],
  [20_000, -9.49],
])('at %i Hz: %d dB', (hz, decibels) => {
  const length = RATE * SECONDS;
  const sine = Array.from({ length }, (_, n) =>
    Math.round(16_000 * Math.sin((2 * Math.PI * hz * n) / RATE)),
  );
  const out = valuesOf(new DeEmphasis(1).take(pcm(sine))).map((value) => value / 256);
  const gain = 20 * Math.log10(strength(out, hz) / strength(sine, hz));
  expect(Math.abs(gain - decibels)).toBeLessThan(0.1);
});

test('the whole curve up to 20 kHz is within 0.08 dB', () => {
  const pulse = [30_000, ...Array.from({ length: 199 }, () => 0)];
  const out = valuesOf(new DeEmphasis(1).take(pcm(pulse)));
  const [short, long] = [15e-6, 50e-6].map((time) => 2 * Math.PI * time) as [number, number];
  const off = Array.from({ length: 201 }, (_, i) => {
    const hz = 100 * i;
    const wanted = 10 * Math.log10((1 + (hz * short) ** 2) / (1 + (hz * long) ** 2));
    const given = 20 * Math.log10((strength(out, hz) * out.length) / 2 / (256 * 30_000));
    return Math.abs(given - wanted);
  });
  expect(Math.max(...off)).toBeLessThan(0.08);
});

test('channels do not mix, and pieces go on where the last one ended', () => {
  const frames = Array.from({ length: 400 }, (_, n) => [(n * 7919) % 30_000, 0]).flat();
  const whole = valuesOf(new DeEmphasis(2).take(pcm(frames)));
  expect(whole.filter((_, i) => i % 2 === 1).every((value) => value === 0)).toBe(true);
  const inPieces = new DeEmphasis(2);
  const pieces = [frames.slice(0, 100), frames.slice(100, 102), frames.slice(102)];
  expect(pieces.flatMap((piece) => valuesOf(inPieces.take(pcm(piece))))).toEqual(whole);
  const alone = frames.filter((_, i) => i % 2 === 0);
  expect(valuesOf(new DeEmphasis(1).take(pcm(alone)))).toEqual(whole.filter((_, i) => i % 2 === 0));
});

test('silence stays silence, a steady value itself, and what goes over is held', () => {
  expect(new DeEmphasis(2).take(new Uint8Array(400))).toEqual(new Uint8Array(600));
  const steady = Array.from({ length: 400 }, () => -32_768);
  const out = valuesOf(new DeEmphasis(1).take(pcm(steady)));
  expect([out.at(-1), Math.min(...out)]).toEqual([-(2 ** 23), -(2 ** 23)]);
});
