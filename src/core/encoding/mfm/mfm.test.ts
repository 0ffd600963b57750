/**
 * MFM both ways: the standard's own patterns, round trips under speed error and jitter, and what
 * must never pass.
 * Few runs a property: in the test runner's sandbox each global in a hot loop costs ten times
 * what it does outside.
 */
import fc from 'fast-check';
import { crc16 } from '../../bits/crc16';
import { seededRandom } from '../../bits/random';
import { simulateReading, type Ageing } from '../../flux/ageing';
import { perfectReading, transitionsOfCells } from '../../flux/synthesis';
import { encodeTrack } from '@/core/layout/encode-track';
import { turnCells, type Layout } from '../../layout/layout';
import { shippedLayout } from '../../layout/shipped';
import { isSound } from '../../reading/grades';
import { TrackDecoder } from '@/core/reading/decode/track-decoder';
import { createMfm } from './mfm';

const TICK_HZ = 24_000_000;
const layout = shippedLayout('mfm-35-9x512')!;
const dense = shippedLayout('mfm-35-18x512')!;

function sectorsOf(seed: string, of: Layout = layout, cylinder = 10, head = 1) {
  const random = seededRandom(seed);
  return of.tracks[0]!.sectors.map(({ r, bytes }) => ({
    c: cylinder,
    h: head,
    r,
    n: 2,
    bytes,
    data: Uint8Array.from({ length: bytes }, () => random.below(256)),
  }));
}

const track = layout.tracks[0]!;
const turnOf = (sectors: ReturnType<typeof sectorsOf>, of: Layout = layout) =>
  encodeTrack(of, 10, 1, sectors);
const decoder = () => new TrackDecoder({ tickHz: TICK_HZ, rpm: 300 }, 'all');
const CALM: Ageing = {
  seed: 'x',
  jitterNs: 30,
  innerFactor: 1,
  peakShiftNs: 0,
  weak: [],
  dropouts: [],
  shedding: 0,
};
const aged = (turn: Float64Array, ageing: Ageing, turnSeconds = 0.2, revolutions = 2) =>
  simulateReading(
    turn,
    ageing,
    {
      cylinder: 10,
      head: 1,
      pass: 1,
      cylinders: 80,
      tickHz: TICK_HZ,
      turnSeconds,
      revolutions,
      dirt: 0,
    },
    1,
  );

test('the CRC is that of the standard', () => {
  // ECMA-78: FFFFh over A1 A1 A1 leaves CDB4h; the check value of the polynomial over "123456789"
  // is 29B1h.
  expect(crc16(Uint8Array.from([0xa1, 0xa1, 0xa1]))).toBe(0xcdb4);
  expect(crc16(new TextEncoder().encode('123456789'))).toBe(0x29b1);
});

test('marks and gaps are laid down as the standard draws them', () => {
  const cells = createMfm().encode(sectorsOf('marks'), track, turnCells(track, 300));
  const text = [...cells].join('');
  const word = (value: number) => value.toString(2).padStart(16, '0');
  expect(text.split(word(0x4489)).length - 1).toBe(2 * 3 * 9);
  expect(text.split(word(0x5224)).length - 1).toBeGreaterThanOrEqual(3);
  // Never two transitions in a row, never more than three cells between them, but in the marks'
  // missing clocks.
  expect(text).not.toContain('11');
  expect(text.replaceAll(word(0x4489), '').replaceAll(word(0x5224), '')).not.toMatch(/00000/);
});

test('whatever was written is read, at any speed within six percent', () => {
  fc.assert(
    fc.property(
      fc.string(),
      fc.double({ min: -0.06, max: 0.06, noNaN: true }),
      fc.constantFrom(layout, dense),
      (seed, speedError, of) => {
        const sectors = sectorsOf(seed, of);
        const reading = aged(turnOf(sectors, of), { ...CALM, seed }, 0.2 / (1 + speedError));
        const { sectors: read } = decoder().decode([reading], of);
        expect(read.map(({ grade }) => grade)).toEqual(sectors.map(() => 'firm'));
        for (const { r, data } of sectors)
          expect(Buffer.compare(read.find((sector) => sector.r === r)!.data!, data)).toBe(0);
      },
    ),
    { numRuns: 4 },
  );
});

test('a speed that changes within the turn is followed', () => {
  const sectors = sectorsOf('wow');
  const turn = turnOf(sectors).map((place) => place + 0.006 * Math.sin(2 * Math.PI * place));
  const { sectors: read } = decoder().decode(
    [perfectReading(turn, { cylinder: 10, head: 1, pass: 1 }, TICK_HZ * 0.2, 2)],
    layout,
  );
  expect(read.every(({ grade }) => grade === 'firm')).toBe(true);
});

test('a reading that starts anywhere gives every sector, with its angle', () => {
  const sectors = sectorsOf('start');
  const turnTicks = TICK_HZ * 0.2;
  const whole = decoder().decode(
    [perfectReading(turnOf(sectors), { cylinder: 10, head: 1, pass: 1 }, turnTicks, 2)],
    layout,
  );
  fc.assert(
    fc.property(fc.double({ min: 0.01, max: 0.99, noNaN: true }), (start) => {
      const turn = turnOf(sectors);
      const shifted = Float64Array.from([
        ...turn.filter((place) => place >= start).map((place) => place - start),
        ...turn.filter((place) => place < start).map((place) => place + 1 - start),
      ]);
      const reading = perfectReading(shifted, { cylinder: 10, head: 1, pass: 1 }, turnTicks, 3);
      const index = [1, 2, 3].map((pulse) => Math.round((pulse - start) * turnTicks));
      const { sectors: read } = decoder().decode([{ ...reading, index }], layout);
      expect(read.map(({ r, grade }) => [r, grade])).toEqual(
        whole.sectors.map(({ r, grade }) => [r, grade]),
      );
      for (const [i, sector] of read.entries())
        expect(Math.abs(sector.angle! - whole.sectors[i]!.angle!)).toBeLessThan(0.005);
    }),
    { numRuns: 5 },
  );
});

test('a data field too far from its ID belongs to no ID', () => {
  const sectors = sectorsOf('far').slice(0, 2);
  const far = (idToData: number) => {
    const cells = createMfm().encode(
      sectors,
      { ...track, gaps: { ...track.gaps, idToData } },
      turnCells(track, 300),
    );
    return decoder()
      .decode(
        [
          perfectReading(
            transitionsOfCells(cells),
            { cylinder: 10, head: 1, pass: 1 },
            TICK_HZ * 0.2,
            1,
          ),
        ],
        null,
      )
      .sectors.map(({ grade }) => grade);
  };
  // Gap, 12 bytes of sync and three marks lie before the data mark.
  expect(far(44)).toEqual(['firm', 'firm']);
  expect(far(48)).toEqual(['doubtful', 'doubtful']);
});

test('a lost, a doubtful and an extra sector are told apart', () => {
  const sectors = sectorsOf('grades');
  const turn = turnOf(sectors);
  const { sectors: whole } = decoder().decode(
    [perfectReading(turn, { cylinder: 10, head: 1, pass: 1 }, TICK_HZ * 0.2, 2)],
    layout,
  );
  const hole = (from: number, to: number) => ({ cylinder: 10, head: 1, from, to });
  const third = whole.find(({ r }) => r === 3)!;
  const fifth = whole.find(({ r }) => r === 5)!;
  const dropouts = [
    hole(third.angle! + third.span! * 0.5, third.angle! + third.span! * 0.52),
    hole(fifth.angle!, fifth.angle! + fifth.span! * 0.07),
  ];
  const { sectors: hurt } = decoder().decode([aged(turn, { ...CALM, dropouts })], layout);
  expect(Object.fromEntries(hurt.map(({ r, grade }) => [r, grade]))).toEqual({
    1: 'firm',
    2: 'firm',
    3: 'doubtful',
    4: 'firm',
    5: 'lost',
    6: 'firm',
    7: 'firm',
    8: 'firm',
    9: 'firm',
  });
  expect(hurt.find(({ r }) => r === 3)!.data).toHaveLength(512);
});

test('nothing is called sound that is not what was written, however the track is hurt', () => {
  const sectors = sectorsOf('hurt');
  const turn = turnOf(sectors);
  const stretch = fc
    .record({
      from: fc.double({ min: 0, max: 0.97, noNaN: true }),
      width: fc.double({ min: 0.001, max: 0.03, noNaN: true }),
    })
    .map(({ from, width }) => ({ cylinder: 10, head: 1, from, to: from + width }));
  fc.assert(
    fc.property(
      fc.string(),
      fc.array(stretch, { maxLength: 5 }),
      fc.array(stretch, { maxLength: 3 }),
      fc.integer({ min: 20, max: 330 }),
      (seed, weak, dropouts, jitterNs) => {
        const readings = [1, 2, 3].map((pass) => ({
          ...simulateReading(
            turn,
            { ...CALM, seed, jitterNs, weak, dropouts },
            {
              cylinder: 10,
              head: 1,
              pass,
              cylinders: 80,
              tickHz: TICK_HZ,
              turnSeconds: 0.199,
              revolutions: 2,
              dirt: 0,
            },
            pass,
          ),
        }));
        for (const sector of decoder().decode(readings, layout).sectors) {
          if (!isSound(sector.grade)) continue;
          expect(Buffer.compare(sector.data!, sectors.find(({ r }) => r === sector.r)!.data)).toBe(
            0,
          );
        }
      },
    ),
    { numRuns: 4 },
  );
});

test.each([[[]], [[1]], [[0, 0, 0]], [Array.from({ length: 5000 }, (_, i) => (i * 37) % 256)]])(
  'any flux is decoded without a failure',
  (bytes) => {
    const reading = {
      cylinder: 0,
      head: 0,
      pass: 1,
      index: [0, 100],
      flux: Uint8Array.from(bytes),
    };
    expect(
      decoder()
        .decode([reading], layout)
        .sectors.map(({ grade }) => grade),
    ).toEqual(track.sectors.map(() => 'lost'));
  },
);
