/**
 * Hurt tracks: what is called sound is what was written, whatever was done to them; how sectors are
 * mended, and which must not be.
 */
import fc from 'fast-check';
import { seededRandom } from '../bits/random';
import { encodeUleb128 } from '../bits/varint';
import { RUNS, encodingOf } from '../encoding';
import { perfectReading, transitionsOfCells } from '../flux/synthesis';
import { encodeTrack } from '../layout/encode-track';
import {
  ENCODING_IDS,
  formatAt,
  recordedId,
  sectorsInOrder,
  turnCells,
  type EncodingId,
  type Layout,
} from '../layout/layout';
import { shippedLayout } from '../layout/shipped';
import { hurtOfLevel, hurtReading, type Hurt } from '../../../tests/support/hurt-flux';
import { isSound } from './grades';
import { TrackDecoder, sectorName } from './decode/track-decoder';

const TICK_HZ = 24_000_000;
const LAYOUT_OF: Record<EncodingId, string> = {
  fm: 'fm-8-26x128',
  mfm: 'mfm-35-9x512',
  'gcr-4to5': 'gcr45-525-35',
  'gcr-6and2': 'gcr62-525-16x256',
};
const CALM: Hurt = {
  seed: 'calm',
  jitter: 0.03,
  peakShift: 0,
  wow: 0,
  speed: 0,
  dropouts: 0,
  dropoutCells: 0,
  weak: 0,
  weakCells: 0,
  extra: 0,
  splices: 0,
};

function disk(id: string, seed: string) {
  const layout = shippedLayout(id)!;
  const cylinder = 5;
  const format = formatAt(layout, cylinder, 0)!;
  const random = seededRandom(seed);
  const sectors = sectorsInOrder(format, cylinder, 0).map((sector) => ({
    ...sector,
    data: Uint8Array.from({ length: sector.bytes }, () => random.below(256)),
  }));
  const turn = encodeTrack(layout, cylinder, 0, sectors);
  const read = (hurt: Hurt, pass: number, revolutions = 2.3, of = turn) =>
    hurtReading(of, hurt, {
      cylinder,
      head: 0,
      pass,
      revolutions,
      tickHz: TICK_HZ,
      turnSeconds: 60 / layout.rpm,
      turnCells: turnCells(format, layout.rpm),
      shortestRun: RUNS[format.encoding].shortest,
    });
  const decode = (readings: ReturnType<typeof read>[], by: Layout | null = layout, options = {}) =>
    new TrackDecoder({ tickHz: TICK_HZ, rpm: layout.rpm }, 'all').decode(readings, by, options)
      .sectors;
  return { layout, format, cylinder, sectors, turn, read, decode };
}

test.each(ENCODING_IDS)(
  '%s: nothing is called sound that was not written, at any level of damage',
  (encoding) => {
    let sound = 0;
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.integer({ min: 1, max: 2 }),
        fc.string(),
        (level, passes, seed) => {
          const { sectors, read, decode } = disk(LAYOUT_OF[encoding], seed);
          const hurt = hurtOfLevel(level, seed);
          for (const sector of decode(
            Array.from({ length: passes }, (_, pass) => read(hurt, pass)),
          )) {
            if (!isSound(sector.grade)) continue;
            const written = sectors.find(({ r }) => r === sector.r);
            expect(written && Buffer.compare(sector.data!, written.data)).toBe(0);
            sound++;
          }
        },
      ),
      // A few of them: `npm run bench -- recovery` counts in hundreds of thousands.
      // The first is hurt so little that something of it is sound.
      { numRuns: 3, endOnFailure: true, examples: [[1, 2, 'little']] },
    );
    expect(sound).toBeGreaterThan(0);
  },
);

test.each(ENCODING_IDS)('%s: of noise where sectors are expected all are lost', (encoding) => {
  const { layout, cylinder, sectors, decode } = disk(LAYOUT_OF[encoding], 'noise');
  for (const seed of ['one', 'two']) {
    const random = seededRandom(`${encoding} ${seed}`);
    const turnTicks = (TICK_HZ * 60) / layout.rpm;
    const intervals: number[] = [];
    for (let at = 0; at < 2.2 * turnTicks; at += intervals.at(-1)!)
      intervals.push(40 + random.below(180));
    const index = [0, 1, 2].map((turn) => Math.round((turn + 0.05) * turnTicks));
    const noise = { cylinder, head: 0, pass: 0, index, flux: encodeUleb128(intervals) };
    expect(decode([noise]).map(({ r, grade }) => [r, grade])).toEqual(
      sectors.map(({ r }) => [r, 'lost']),
    );
  }
});

test.each<[string, Partial<Hurt>]>([
  ['six percent fast', { speed: 0.06 }],
  ['six percent slow, and swinging', { speed: -0.06, wow: 0.02 }],
  ['strong wow', { wow: 0.04 }],
  ['strong jitter', { jitter: 0.1 }],
  ['peak shift of inner tracks', { peakShift: 0.22 }],
  ['jitter and peak shift', { jitter: 0.06, peakShift: 0.15 }],
  ['stray transitions', { extra: 2 }],
])('every sector of a track is read that is %s', (_, effect) => {
  for (const id of ['mfm-35-18x512', 'fm-8-26x128']) {
    const { sectors, read, decode } = disk(id, id);
    const back = decode([read({ ...CALM, ...effect }, 0, 3.2)]);
    expect(
      back
        .filter(({ grade }) => isSound(grade))
        .map(({ r }) => r)
        .sort(),
    ).toEqual(sectors.map(({ r }) => r).sort());
  }
});

test('what no single turn reads is read over several together, and called mended by voting', () => {
  const { sectors, read, decode } = disk('mfm-35-9x512', 'votes');
  const passes = [0, 1, 2, 3].map((pass) => read({ ...CALM, jitter: 0.17 }, pass));
  const back = decode(passes);
  const voted = back.filter(({ mending }) => mending === 'voting');
  expect(voted.length).toBeGreaterThan(2);
  for (const { r, data, grade } of voted)
    expect([grade, Buffer.compare(data!, sectors.find((sector) => sector.r === r)!.data)]).toEqual([
      'mended',
      0,
    ]);
});

/** The turn with the transition nearest to `share` of the sector's data moved by `cells`. */
function moved(turn: Float64Array, at: number, by: number): Float64Array {
  const nearest = turn.reduce(
    (best, place, i) => (Math.abs(place - at) < Math.abs(turn[best]! - at) ? i : best),
    0,
  );
  return turn.map((place, i) => (i === nearest ? place + by : place));
}

test('a transition that lies nearly between two cells is read by what stands around it, and said to be', () => {
  const { sectors, read, decode, turn, format, layout, cylinder } = disk('mfm-35-9x512', 'trial');
  const [plain] = decode([read(CALM, 0)]).filter(({ r }) => r === 4);
  const cell = 1 / turnCells(format, layout.rpm);
  const grades = [0.3, 0.36, 0.4, 0.44, 0.5, 0.55, 0.6, 0.66, 0.7].map((share) => {
    const hurt = moved(turn, plain!.angle! + plain!.span! * share, 0.53 * cell);
    // One turn only: what two turns show alike would be taken for made.
    const back = decode([
      perfectReading(hurt, { cylinder, head: 0, pass: 0 }, (TICK_HZ * 60) / layout.rpm, 1),
    ]).find(({ r }) => r === 4)!;
    if (isSound(back.grade))
      expect(Buffer.compare(back.data!, sectors.find(({ r }) => r === 4)!.data)).toBe(0);
    return back.mending;
  });
  expect(new Set(grades)).toEqual(new Set(['likelihood', 'trial']));
});

test('a check that is wrong in the same way on every reading is proposed as made, and never mended', () => {
  const { format, layout, sectors, read, decode, cylinder } = disk('mfm-35-9x512', 'made');
  const cells = encodingOf('mfm').encode(
    sectors.map((sector) => ({
      ...recordedId(layout, 'mfm', cylinder, 0, sector),
      data: sector.data,
    })),
    format,
    turnCells(format, layout.rpm),
  );
  const right = transitionsOfCells(cells);
  const [third] = decode([
    perfectReading(right, { cylinder, head: 0, pass: 0 }, (TICK_HZ * 60) / layout.rpm, 2),
  ]).filter(({ r }) => r === 3);
  // Another byte in the middle, cleanly written, under the old check.
  const other = sectors.map((sector) =>
    sector.r === 3
      ? { ...sector, data: sector.data.map((byte, i) => (i === 256 ? byte ^ 0x24 : byte)) }
      : sector,
  );
  const otherCells = encodingOf('mfm').encode(
    other.map((sector) => ({
      ...recordedId(layout, 'mfm', cylinder, 0, sector),
      data: sector.data,
    })),
    format,
    turnCells(format, layout.rpm),
  );
  const from = Math.floor((third!.angle! + third!.span! * 0.3) * cells.length);
  const to = Math.floor((third!.angle! + third!.span! * 0.9) * cells.length);
  const mixed = cells.map((cell, i) => (i >= from && i < to ? otherCells[i]! : cell));
  const back = decode(
    [0, 1, 2].map((pass) => read(CALM, pass, 2.3, transitionsOfCells(mixed))),
  ).find(({ r }) => r === 3)!;
  expect(back).toMatchObject({
    grade: 'doubtful',
    mending: null,
    remarks: [{ kind: 'as-made', what: { code: 'merge.itsCheckIsWrong' } }],
  });
  expect(Buffer.compare(back.data!, other.find(({ r }) => r === 3)!.data)).toBe(0);
});

test.each([
  ['a cell is as made', 1, 1, 'full', [true, false, false]],
  ['a cell is as made, though the drive wavers', 1, 2, 'full', [true, false, false]],
  ['six tenths of one is mended', 0.6, 1, 'by-turns', [false, true, true]],
  ['seven tenths is a loss', 0.7, 1, 'by-turns', [false, false, false]],
  ['seven tenths is mended by all turns', 0.7, 1, 'full', [false, true, true]],
  ['eight tenths is mended by all turns', 0.8, 1, 'full', [false, true, true]],
] as const)('a transition that is off by %s', (_, by, level, effort, wanted) => {
  const { layout, sectors, turn, decode, cylinder, read } = disk('mfm-35-9x512', 'moved');
  const [sector] = decode([
    perfectReading(turn, { cylinder, head: 0, pass: 0 }, (TICK_HZ * 60) / layout.rpm, 2),
  ]).filter(({ r }) => r === 3);
  const cell = 1 / turnCells(formatAt(layout, cylinder, 0)!, layout.rpm);
  const from = sector!.angle! + sector!.span! * 0.5;
  const runAt = (i: number) => Math.round((turn[i]! - turn[i - 1]!) / cell);
  // Four cells and two become three and three: still the code's runs, and another bit.
  const at = turn.findIndex((place, i) => place > from && runAt(i) === 4 && runAt(i + 1) === 2);
  const moved = turn.map((place, i) => (i === at ? place - by * cell : place));
  const calm = { ...CALM, wow: 0.1 * (level - 1), jitter: 0.02 * level };
  const readings = [0, 1].map((pass) => read(calm, pass, 2.3, moved));
  const back = decode(readings, undefined, { effort }).find(({ r }) => r === 3)!;
  const written = sectors.find(({ r }) => r === 3)!.data;
  expect([
    back.remarks.some(({ kind }) => kind === 'as-made'),
    isSound(back.grade),
    Buffer.compare(back.data!, written) === 0,
  ]).toEqual(wanted);
});

test('a sector that a person holds to be as made is left as it is', () => {
  const { read, decode, cylinder } = disk('mfm-35-9x512', 'kept');
  const passes = [0, 1, 2, 3].map((pass) => read({ ...CALM, jitter: 0.17 }, pass));
  const voted = decode(passes).find(({ mending }) => mending === 'voting')!;
  const again = decode(passes, undefined, {
    asMade: new Set([sectorName({ cylinder, head: 0, r: voted.r })]),
  });
  expect(again.find(({ r }) => r === voted.r)!.grade).toBe('doubtful');
});

test.each([
  ['in two turns', 0, 2],
  ['in one turn that begins within a sector of the first', 0.16, 1],
])('two formats on one track are both read, %s', (_, start, revolutions) => {
  const { layout, sectors, decode, cylinder } = disk('mfm-35-9x512', 'two');
  const format = formatAt(layout, cylinder, 0)!;
  const few = encodingOf('mfm').encode(
    sectors
      .slice(0, 4)
      .map((sector) => ({ ...recordedId(layout, 'mfm', cylinder, 0, sector), data: sector.data })),
    format,
    turnCells(format, 300),
  );
  const fm = { ...formatAt(shippedLayout('fm-8-26x128')!, 0, 0)!, rateKbps: 125 };
  const old = Array.from({ length: 16 }, (_, i) => ({
    c: cylinder,
    h: 0,
    r: 20 + i,
    n: 0,
    data: new Uint8Array(128).fill(i + 1),
  }));
  const older = encodingOf('fm').encode(old, fm, turnCells(fm, 300));
  // The older format shows through behind the four sectors of the newer.
  const half = (4 * 658 + 160) / 6250;
  const places = [...transitionsOfCells(few)]
    .filter((place) => place < half)
    .concat([...transitionsOfCells(older)].filter((place) => place > half + 0.002));
  const turn = Float64Array.from(places, (place) => (place - start + 1) % 1).sort();
  const pulses = Array.from({ length: revolutions }, (_turn, revolution) => revolution);
  const intervals = pulses.flatMap((revolution) =>
    [...turn].map((place) => Math.round((revolution + place) * TICK_HZ * 0.2)),
  );
  const flux = encodeUleb128(intervals.map((time, i) => time - (intervals[i - 1] ?? 0)));
  const back = decode(
    [
      {
        cylinder,
        head: 0,
        pass: 0,
        index: [...pulses, revolutions].map((pulse) => pulse * TICK_HZ * 0.2),
        flux,
      },
    ],
    null,
  ).filter(({ grade }) => grade === 'firm');
  const newer = back.filter(({ encoding }) => encoding === 'mfm').map(({ r }) => r);
  expect(newer.sort()).toEqual([1, 2, 3, 4]);
  expect(back.filter(({ encoding }) => encoding === 'fm').length).toBeGreaterThanOrEqual(3);
  for (const { r, data, encoding } of back)
    if (encoding === 'fm') expect(data!.every((byte) => byte === r - 19)).toBe(true);
});
