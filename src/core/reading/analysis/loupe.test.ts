/** The loupe's figures: what a track laid down with known cells shows of itself. */
import { simulateReading, type Ageing } from '@/core/flux/ageing';
import { flatTrack } from '@/core/image/flat';
import { encodeTrack } from '@/core/layout/encode-track';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { differingBytes, analyseTrack, type LoupeRequest } from './loupe';
import { judgeDrive, testTracks, testedTrack } from './self-test';
import { spreadBetween, timingOfTurn } from '../decode/timing';
import { TrackDecoder } from '../decode/track-decoder';

const layout = shippedLayout('mfm-35-9x512')!;
const image = Uint8Array.from(
  { length: bytesOf(layout) },
  (_, i) => (i * 7919 + (i >> 5) * 31) & 255,
);
const turn = encodeTrack(layout, 33, 0, flatTrack(layout, image, 33, 0));
const drive = { tickHz: 24_000_000, rpm: 300 };
const CELL = 48;

const read = (more: Partial<Ageing> = {}, turnSeconds = 0.2, dirt = 0) =>
  simulateReading(
    turn,
    {
      seed: 'loupe',
      jitterNs: 60,
      innerFactor: 1,
      peakShiftNs: 0,
      weak: [],
      dropouts: [],
      shedding: 0,
      ...more,
    },
    {
      cylinder: 33,
      head: 0,
      pass: 1,
      cylinders: 80,
      tickHz: drive.tickHz,
      turnSeconds,
      revolutions: 2,
      dirt,
    },
    1,
  );
const faltering = { stretched: [{ cylinder: 33, head: 0, from: 0.36, to: 0.42, by: 0.35 }] };
const request = (more: Partial<LoupeRequest> = {}): LoupeRequest => ({
  readings: [read()],
  drive,
  encoding: 'mfm',
  cellTicks: CELL,
  setting: null,
  from: 0,
  to: 1,
  columns: 100,
  rows: 50,
  ...more,
});

test('intervals lie on the rows of two, three and four cells, and each is counted once', () => {
  const [first] = analyseTrack(request());
  const { counts, density, rows, longest } = first!.ribbon;
  const row = (cells: number) => Math.floor(((cells * CELL) / longest) * rows);
  const near = (cells: number) =>
    [-1, 0, 1].reduce((sum, off) => sum + counts[row(cells) + off]!, 0);
  const total = counts.reduce((sum, count) => sum + count, 0);
  expect(density.reduce((sum, count) => sum + count, 0)).toBe(total);
  expect((near(2) + near(3) + near(4)) / total).toBeGreaterThan(0.98);
  expect(Math.abs(total - turn.length)).toBeLessThan(3);
});

test('a part of the turn has its own intervals only', () => {
  const [whole] = analyseTrack(request());
  const parts = [
    [0, 0.25],
    [0.25, 0.5],
    [0.5, 1],
  ].map(([from, to]) => analyseTrack(request({ from: from!, to: to! }))[0]!);
  const sum = (counts: Uint32Array) => counts.reduce((all, count) => all + count, 0);
  expect(parts.reduce((all, { ribbon }) => all + sum(ribbon.counts), 0)).toBe(
    sum(whole!.ribbon.counts),
  );
});

test('every turn shows its sectors, their bytes, checks and cells', () => {
  const turns = analyseTrack(request());
  expect(turns.map(({ sightings }) => sightings.map(({ r }) => r))).toEqual([
    [1, 2, 3, 4, 5, 6, 7, 8, 9],
    [1, 2, 3, 4, 5, 6, 7, 8, 9],
  ]);
  const { data, check, made, cells, dataOk } = turns[0]!.sightings[3]!;
  const offset = (33 * 2 * 9 + 3) * 512;
  expect([dataOk, check]).toEqual([true, made]);
  expect(data).toEqual(image.subarray(offset, offset + 512));
  // Every second cell from the mark on is a data bit: FBh, then the bytes.
  const bits = (byte: number) =>
    Array.from({ length: 8 }, (_, i) => cells[byte * 16 + i * 2 + 1]).join('');
  expect([bits(0), bits(1), bits(100)]).toEqual(
    [0xfb, data![0]!, data![99]!].map((byte) => byte.toString(2).padStart(8, '0')),
  );
});

test('a spindle that faltered is seen in the ribbon, lost to the usual recovery and followed by one that may drift', () => {
  const readings = [read(faltering)];
  const [plain] = analyseTrack(request({ readings }));
  const [byHand] = analyseTrack(
    request({
      readings,
      setting: { phaseGain: 0.6, rateGain: 0.1, shiftGain: 0, drift: 0.4, cell: 1 },
    }),
  );
  expect([plain, byHand].map((look) => look!.sightings.find(({ r }) => r === 4)!.dataOk)).toEqual([
    false,
    true,
  ]);
  const { cell } = byHand!.ribbon;
  expect(Math.max(...cell) / CELL).toBeGreaterThan(1.3);
  expect(Math.min(...cell.filter((each) => each > 0)) / CELL).toBeGreaterThan(0.97);
  expect(differingBytes([plain!.sightings[3]!, byHand!.sightings[3]!]).length).toBeGreaterThan(50);
});

test('timing tells jitter from drift, part by part', () => {
  const spread = (more: Partial<Ageing>) => {
    const reading = read(more);
    return spreadBetween(timingOfTurn(reading, drive.tickHz, CELL, 0, 4_800_000, 64), 0, 1)!;
  };
  const [little, much] = [spread({ jitterNs: 40 }), spread({ jitterNs: 160 })];
  // A transition moved by so much makes two intervals wrong: √2 of it, over the cell of 2 µs,
  // shared among a run's cells.
  expect(little).toBeGreaterThan(0.02);
  expect(little).toBeLessThan(0.04);
  expect(much / little).toBeGreaterThan(3);
  const parts = timingOfTurn(read(faltering), drive.tickHz, CELL, 0, 4_800_000, 100);
  expect(Math.max(...parts.slice(36, 42).map(({ drift }) => drift))).toBeGreaterThan(0.15);
  expect(Math.max(...parts.slice(60, 90).map(({ drift }) => Math.abs(drift)))).toBeLessThan(0.02);
  expect(
    spreadBetween(
      timingOfTurn({ ...read(), flux: new Uint8Array(0) }, drive.tickHz, CELL, 0, 4_800_000, 8),
      0,
      1,
    ),
  ).toBeNull();
});

describe('a drive with a reference disk', () => {
  const about = { ...drive, cylinders: 82, heads: 2 };
  const tested = (turnSeconds: number, dirt: number) => {
    const reading = read({}, turnSeconds, dirt);
    return testedTrack(
      reading,
      new TrackDecoder(drive, 'all').decode([reading], layout, { effort: 'plain' }),
      about,
    );
  };
  const both = (turnSeconds: number, dirt = 0) =>
    judgeDrive(
      [0, 1].map((head) => ({ ...tested(turnSeconds, dirt), head })),
      about,
    );

  test('passes as it should be', () => {
    expect(both(0.2)).toMatchObject({
      passed: true,
      tracks: [
        { sectors: 9, sound: 9 },
        { sectors: 9, sound: 9 },
      ],
    });
    expect(both(0.2).tracks[0]!.rpm).toBeCloseTo(300, 1);
    expect(testTracks(about, 80)).toHaveLength(8);
  });

  test('is told what is wrong: its speed, its head', () => {
    expect(both(0.194).findings).toEqual([
      { code: 'analysis.itTurnsTimesA', with: { mean: '309.3', rpm: 300 } },
    ]);
    expect(both(0.2, 0.9)).toMatchObject({
      passed: false,
      findings: [{ code: 'analysis.headReadsNoTrack', with: { head: 0 } }, { with: { head: 1 } }],
    });
  });
});
