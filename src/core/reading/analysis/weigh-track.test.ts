/** Turns weighed together: what was done to them is found where it was done. */
import { seededRandom } from '@/core/bits/random';
import { encodeImage } from '@/core/image/encode-image';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { simulateReading, type Ageing } from '@/core/flux/ageing';
import { doubtBetween, weighTrack } from './weigh-track';

const TICK_HZ = 24_000_000;
const CELL_TICKS = 48;
const layout = shippedLayout('mfm-35-9x512')!;
const SOUND: Ageing = {
  seed: 'weighed',
  jitterNs: 60,
  innerFactor: 1,
  peakShiftNs: 0,
  weak: [],
  dropouts: [],
  shedding: 0,
};

/** A track of random data, read so many times by a drive. */
function readings(ageing: Partial<Ageing>, revolutions: number, passes = 1) {
  const random = seededRandom('weighed/data');
  const image = Uint8Array.from({ length: bytesOf(layout) }, () => random.below(256));
  const [first] = encodeImage(layout, image);
  return Array.from({ length: passes }, (_, pass) =>
    simulateReading(
      first!.turn,
      { ...SOUND, ...ageing },
      {
        cylinder: 0,
        head: 0,
        pass,
        cylinders: 80,
        tickHz: TICK_HZ,
        turnSeconds: 0.2,
        revolutions,
        dirt: 0,
      },
      pass,
    ),
  );
}

const weighed = (of: ReturnType<typeof readings>) =>
  weighTrack({
    readings: of,
    drive: { tickHz: TICK_HZ, rpm: 300 },
    encoding: 'mfm',
    cellTicks: CELL_TICKS,
    columns: 1000,
  })!;

test('a sound track is certain all round, and its noise is that of the drive', () => {
  const { turns, spread, missed, doubt } = weighed(readings({}, 2));
  expect(turns).toEqual([
    { reading: 0, turn: 0, garbage: 0 },
    { reading: 0, turn: 1, garbage: 0 },
  ]);
  // 60 ns of cells of 2 µs are 0.03; nothing below 0.045 is believed.
  expect(spread).toBeGreaterThan(0.03);
  expect(spread).toBeLessThan(0.08);
  expect(missed).toBeLessThan(0.01);
  // Also where the reading begins and ends: the drive came by there twice.
  expect(doubtBetween(doubt, 0, 1)).toBeLessThan(-3);
});

test('what differs at each reading is doubtful there, and nowhere else', () => {
  const weak = [{ cylinder: 0, head: 0, from: 0.4, to: 0.42 }];
  const { doubt } = weighed(readings({ weak }, 2));
  expect(doubtBetween(doubt, 0.395, 0.03)).toBeGreaterThan(-1);
  expect(doubtBetween(doubt, 0.1, 0.28)).toBeLessThan(-2.5);
  expect(doubtBetween(doubt, 0.45, 0.4)).toBeLessThan(-2.5);
});

test('more turns make it more certain', () => {
  const weak = [{ cylinder: 0, head: 0, from: 0.4, to: 0.401 }];
  const [few, many] = [1, 4].map((passes) => {
    const { turns, doubt } = weighed(readings({ weak, jitterNs: 300 }, 2, passes));
    expect(turns).toHaveLength(2 * passes);
    return doubt.reduce((sum, each) => sum + (each > -4 ? 1 : 0), 0);
  });
  expect(many).toBeLessThan(few! / 2);
});

test('without a whole turn there is nothing to weigh', () => {
  const [reading] = readings({}, 1);
  expect(
    weighTrack({
      readings: [{ ...reading!, index: [0] }],
      drive: { tickHz: TICK_HZ, rpm: 300 },
      encoding: 'mfm',
      cellTicks: CELL_TICKS,
      columns: 100,
    }),
  ).toBeNull();
});

test('the most doubtful of a stretch, across the index too', () => {
  const doubt = Float32Array.from([-1, -2, -3, -4, -5, -6, -7, -8, -9, -Infinity]);
  expect(doubtBetween(doubt, 0.25, 0.3)).toBe(-3);
  expect(doubtBetween(doubt, 0.85, 0.3)).toBe(-1);
  expect(doubtBetween(doubt, 0.95, 0.05)).toBeNull();
});

test('where the spindle faltered it is doubtful, and certain again behind it', () => {
  const stretched = [{ cylinder: 0, head: 0, from: 0.34, to: 0.44, by: 0.6 }];
  const { turns, doubt } = weighed(readings({ stretched }, 2));
  expect(doubtBetween(doubt, 0.36, 0.06)).toBeGreaterThan(-1);
  expect(doubtBetween(doubt, 0.1, 0.2)).toBeLessThan(-2.5);
  expect(doubtBetween(doubt, 0.6, 0.35)).toBeLessThan(-2.5);
  expect(Math.max(...turns.map(({ garbage }) => garbage))).toBeLessThan(0.2);
});

test('turns are named by the reading that they are of, also where another holds no whole one', () => {
  const [first, second] = readings({}, 2, 2);
  const { turns } = weighed([{ ...first!, index: [0] }, second!]);
  expect(turns.map(({ reading, turn }) => [reading, turn])).toEqual([
    [1, 0],
    [1, 1],
  ]);
});
