/**
 * Laid down nearer, it comes back where it was meant: by the measure of the decoder, on a medium
 * that pushes.
 */
import { TrackDecoder } from '../reading/decode/track-decoder';
import { testedTrack } from '../reading/analysis/self-test';
import { shippedLayout } from '../layout/shipped';
import { encodeTrack } from '../layout/encode-track';
import { formatAt } from '../layout/layout';
import { simulateReading } from './ageing';
import { precompensated, precompensationNs, shiftDirection } from './precompensation';

const drive = { tickHz: 24_000_000, rpm: 300, cylinders: 80, heads: 2 };
const layout = shippedLayout('mfm-35-18x512')!;
const sectors = formatAt(layout, 79, 0)!.sectors.map(({ r, bytes }, i) => ({
  r,
  bytes,
  data: Uint8Array.from({ length: bytes }, (_, at) => (at * 37 + i * 91) & 0xff),
}));
const spreadOf = (ns: number) => {
  const turn = precompensated(encodeTrack(layout, 79, 0, sectors), ns, 0.2);
  const reading = simulateReading(
    turn,
    {
      seed: 'p',
      jitterNs: 40,
      innerFactor: 1.5,
      peakShiftNs: 160,
      weak: [],
      dropouts: [],
      shedding: 0,
    },
    {
      cylinder: 79,
      head: 0,
      pass: 0,
      cylinders: 80,
      tickHz: drive.tickHz,
      turnSeconds: 0.2,
      revolutions: 3,
      dirt: 0,
    },
    0,
  );
  return testedTrack(reading, new TrackDecoder(drive, 'all').decode([reading], layout), drive)
    .spread;
};

test('the spread of an inner track falls by a third at least', () => {
  expect(spreadOf(125)).toBeLessThan(spreadOf(0) * 0.67);
});

test('only MFM, only the inner half; the order of transitions stays', () => {
  expect([
    precompensationNs('mfm', 39, 80),
    precompensationNs('mfm', 40, 80),
    precompensationNs('fm', 70, 77),
    precompensationNs('gcr-6and2', 34, 35),
  ]).toEqual([0, 125, 0, 0]);
  const turn = encodeTrack(layout, 79, 0, sectors);
  const moved = precompensated(turn, 125, 0.2);
  expect(moved.every((place, i) => i === 0 || place > moved[i - 1]!)).toBe(true);
  expect(precompensated(turn, 0, 0.2)).toBe(turn);
  const pair = Float64Array.of(0.1, 0.2, 0.22, 0.4);
  expect([0, 1, 2, 3].map((i) => shiftDirection(pair, i))).toEqual([0, -1, 1, 0]);
});
