/** AIFC packed four to one, held against what a program that is not ours unpacked. */
import fc from 'fast-check';
import { loadVector } from '../../../../tests/support/vectors';
import { valuesOf } from '../pcm';
import { readSound } from '../read-sound';
import { fromIma4 } from './ima4';

test.each([
  ['mono', 1, 22_050, 448],
  ['stereo', 2, 44_100, 320],
])('%s is unpacked to the value', (name, channels, rateHz, frames) => {
  const sound = readSound(loadVector(`sound/ima4-${name}.aifc`))!;
  expect(sound).toMatchObject({ format: 'aiff', channels, rateHz, frames, bits: 16, remarks: [] });
  expect(Buffer.compare(sound.data, loadVector(`sound/ima4-${name}.s16`))).toBe(0);
  expect(Math.max(...valuesOf(sound.data, sound.coding))).toBeGreaterThan(0.5);
});

test('a cut one gives its whole packets, and says so', () => {
  const whole = loadVector('sound/ima4-stereo.aifc');
  const sound = readSound(whole.slice(0, whole.length - 30))!;
  expect(sound.frames).toBe(256);
  expect(sound.remarks.map(({ code }) => code)).toEqual(['sound.dataIsCut']);
});

test('any bytes are values of 16 bits', () =>
  fc.assert(
    fc.property(
      fc.uint8Array({ maxLength: 300 }),
      fc.integer({ min: 1, max: 3 }),
      (bytes, channels) => {
        const out = fromIma4(bytes, channels);
        return out.length === Math.floor(bytes.length / (34 * channels)) * 128 * channels;
      },
    ),
  ));
