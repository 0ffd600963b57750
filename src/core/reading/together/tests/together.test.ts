/** Turns put together: each step against brute force, exhaustive search, or what was put in. */
import fc from 'fast-check';
import { seededRandom } from '@/core/bits/random';
import { alignTurn } from '../align-turn';
import { placesOnGrid } from '../cell-clock';
import type { CellMetric } from '../cell-metric';
import { FieldTrellis } from '../fields/field-trellis';
import { freePath } from '../free-path';
import { madeUpMetric } from '../../../../../tests/support/reading/made-up-metric';
import { readGroups } from '../fields/group-field';
import { startModel } from '../track-model';
import { lagBetween, laidOver } from '../turn-views';

const mfm = startModel('mfm', 0, 1, 4000);
const group = startModel('gcr-6and2', 0, 1, 4000);

/** Transitions of random MFM runs, in cells. */
function runs(seed: string, count: number): number[] {
  const random = seededRandom(seed);
  let at = 0;
  return Array.from({ length: count }, () => (at += 2 + random.below(3)));
}

describe('the clock', () => {
  test.each([0, 0.01, -0.01])('a drive that is %d off its speed is followed', (off) => {
    const cells = runs('clock', 3000);
    const random = seededRandom(`noise ${off}`);
    const times = Float64Array.from(
      cells,
      (cell) => (cell + 0.05 * random.normal()) * 24 * (1 + off),
    );
    const places = placesOnGrid({ times, count: times.length, cellTicks: 24, shortest: 2 });
    const base = Math.round(places[0]! - cells[0]!);
    const wrong = places.filter((place, i) => Math.abs(place - base - cells[i]!) > 0.3).length;
    expect(wrong).toBeLessThan(5);
  });

  test('slow wow of half a percent moves nothing', () => {
    const cells = runs('wow', 6000);
    const times = Float64Array.from(cells, (cell) => 24 * (cell + 14 * Math.sin(cell / 3000)));
    const places = placesOnGrid({ times, count: times.length, cellTicks: 24, shortest: 2 });
    const base = Math.round(places[0]! - cells[0]!);
    expect(places.every((place, i) => Math.abs(place - base - cells[i]!) < 0.3)).toBe(true);
  });

  test.each([0.35, -0.4])('behind a splice %d of a cell aside the grid is found anew', (jump) => {
    const cells = runs('splice', 3000);
    const random = seededRandom(`splice ${jump}`);
    const times = Float64Array.from(
      cells,
      (cell) => (cell + (cell > 4000 ? jump : 0) + 0.04 * random.normal()) * 24,
    );
    const places = placesOnGrid({ times, count: times.length, cellTicks: 24, shortest: 2 });
    const offs = cells.map((_, i) => Math.abs(places[i]! - Math.round(places[i]!)));
    const late = offs.filter((off, i) => Math.abs(cells[i]! - 4000) > 100 && off > 0.25);
    expect(late).toEqual([]);
  });

  test('without a transition there is no place', () =>
    expect(
      placesOnGrid({ times: new Float64Array(), count: 0, cellTicks: 24, shortest: 2 }),
    ).toHaveLength(0));
});

describe('turns laid over one another', () => {
  const first = Float64Array.from(runs('lay', 4000));
  test.each([0, 5, -17, 250])('moved by %d cells they are found', (lag) =>
    expect(
      lagBetween(
        first,
        first.map((place) => place + lag),
      ),
    ).toBe(lag),
  );

  test('a slip of a cell behind a hurt spot is taken back', () => {
    const slipped = first.map((place) => (place < 5000 ? place : place + 1) + 40);
    const laid = laidOver(first, slipped);
    const off = laid.filter((place, i) => Math.abs(place - first[i]!) > 0.3).length;
    expect(off / laid.length).toBeLessThan(0.06);
  });

  // Where a spindle faltered, the clocks of two turns may lose count of some ten cells.
  test.each([7, -40, 120])('a slip of %d cells is taken back', (slip) => {
    const slipped = first.map((place) => place + (place < 5000 ? 40 : 40 + slip)).sort();
    const laid = laidOver(first, slipped);
    const isLaid = (place: number) => laid.some((each) => Math.abs(each - place) < 0.3);
    const behind = first.filter((place) => place > 5800 && place < 11_000);
    expect(behind.filter((place) => !isLaid(place))).toHaveLength(0);
    const before = first.filter((place) => place > 700 && place < 4400);
    expect(before.filter((place) => !isLaid(place))).toHaveLength(0);
  });

  test('behind what is alike every few cells the right slip is found', () => {
    const every = Array.from({ length: 745 }, (_, i) => 4004 + 4 * i);
    const others = first.filter((place) => place < 4000 || place > 7000);
    const alike = Float64Array.of(...others, ...every).sort();
    const slipped = alike.map((place) => place + (place < 4500 ? 0 : 42));
    const laid = laidOver(alike, slipped);
    const isLaid = (place: number) => laid.some((each) => Math.abs(each - place) < 0.3);
    const behind = alike.filter((place) => place > 7600 && place < 11_000);
    expect(behind.length).toBeGreaterThan(500);
    expect(behind.filter((place) => !isLaid(place))).toHaveLength(0);
  });

  test('noise moves nothing of what stands behind it', () => {
    for (let n = 0; n < 20; n++) {
      const random = seededRandom(`noise ${n}`);
      const noisy = first.map((place) =>
        place > 5000 && place < 5000 + 60 * n ? 5000 + 60 * n * random.next() : place,
      );
      const laid = laidOver(first, noisy.sort());
      const behind = laid.filter((place) => place > 5000 + 60 * n + 520);
      const own = first.filter((place) => place > 5000 + 60 * n + 520);
      expect([n, behind.length]).toEqual([n, own.length]);
      expect(behind.every((place, i) => Math.abs(place - own[i]!) < 0.3)).toBe(true);
    }
  });
});

describe('which transition is which', () => {
  const INDEL = 5;
  const cost = (places: number[], expected: number[], sigma: number): number => {
    // Every order-preserving assignment, tried.
    const weight = 1 / (2 * Math.max(0.15, sigma) ** 2);
    const best = (i: number, j: number): number => {
      if (j === expected.length) return 0;
      const skip = best(i, j + 1) + INDEL;
      let least = skip;
      for (let k = i; k < places.length; k++) {
        const off = places[k]! - expected[j]!;
        if (Math.abs(off) >= 1.1) continue;
        const between = j === 0 ? 0 : (k - i) * INDEL;
        least = Math.min(least, off * off * weight + between + best(k + 1, j + 1));
      }
      return least;
    };
    return best(0, 0);
  };

  test('the assignment costs no more than any other', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 20, noNaN: true }), { maxLength: 7 }),
        fc.array(fc.integer({ min: 0, max: 10 }), { minLength: 1, maxLength: 6 }),
        (raw, cells) => {
          const places = raw.sort((a, b) => a - b);
          const expected = [...new Set(cells)].sort((a, b) => a - b).map((cell) => 2 * cell);
          const assigned = alignTurn(Float64Array.from(places), Float64Array.from(expected), 0.15);
          let last = -1;
          let own = 0;
          let isFirst = true;
          assigned.forEach((i, j) => {
            if (i < 0) {
              own += INDEL;
              isFirst = false;
              return;
            }
            expect(i).toBeGreaterThan(last);
            const off = places[i]! - expected[j]!;
            own += (off * off) / (2 * 0.15 ** 2) + (isFirst ? 0 : (i - last - 1) * INDEL);
            isFirst = false;
            last = i;
          });
          expect(Math.abs(off(assigned, places, expected))).toBeLessThan(1.1);
          // Those too many before the first match or at the end are counted alike or not at all.
          expect(own).toBeLessThanOrEqual(cost(places, expected, 0.15) + INDEL * places.length);
        },
      ),
    ));

  const off = (assigned: Int32Array, places: number[], expected: number[]) =>
    Math.max(
      0,
      ...Array.from(assigned, (i, j) => (i < 0 ? 0 : Math.abs(places[i]! - expected[j]!))),
    );

  test('one missing and one too many move nothing else', () => {
    const expected = Float64Array.from([10, 12, 15, 18, 20, 23]);
    const places = Float64Array.from([10.1, 12, 13.6, 17.9, 20.2, 22.8]);
    expect([...alignTurn(places, expected, 0.1)]).toEqual([0, 1, -1, 3, 4, 5]);
  });
});

describe('the likeliest sequences', () => {
  test('no sequence under the run lengths is likelier than the free one', () => {
    for (let seed = 0; seed < 20; seed++) {
      const metric = madeUpMetric(`free ${seed}`, 18, 3);
      const { score } = freePath(metric, mfm);
      const best = (cell: number, before: number): number => {
        if (cell >= 18) return 0;
        let most = -Infinity;
        for (let after = 0; after < 3; after++)
          most = Math.max(
            most,
            metric.values[(cell * 3 + before) * 3 + after]! + best(cell + 2 + after, after),
          );
        return most;
      };
      const starts = [0, 1, 2, 3].flatMap((cell) => [0, 1, 2].map((before) => best(cell, before)));
      expect(score).toBeCloseTo(Math.max(...starts), 3);
    }
  });

  /** Cells of MFM bits behind a 1. */
  const cellsOfBits = (bits: readonly number[]): number[] => {
    let last = 1;
    return bits.flatMap((bit) => {
      const clock = bit || last ? 0 : 1;
      last = bit;
      return [clock, bit];
    });
  };

  test('the bits of a field are the likeliest of all that there are', () => {
    const BITS = 7;
    for (let seed = 0; seed < 10; seed++) {
      const metric = madeUpMetric(`field ${seed}`, 40, 3);
      const asked = { start: 10, bits: BITS, anchor: 9, anchorRun: 3, isMfm: true };
      const trellis = new FieldTrellis(metric, mfm, asked);
      const scoreOf = (bits: readonly number[]): number => {
        const ones = cellsOfBits(bits).flatMap((cell, i) => (cell ? [10 + i] : []));
        // What lies behind the field is free: the best way on from its last transition.
        const last = ones[ones.length - 1] ?? 9;
        let most = -Infinity;
        for (let run = 2; run <= 4; run++) {
          const end = last + run;
          if (end < 24) continue;
          let sum = 0;
          let before = 3;
          const all = [9, ...ones, end];
          for (let i = 0; i + 1 < all.length; i++) {
            const after = all[i + 1]! - all[i]!;
            if (after < 2 || after > 4) return -Infinity;
            sum += metric.values[(all[i]! * 3 + before - 2) * 3 + after - 2]!;
            before = after;
          }
          most = Math.max(most, sum);
        }
        return most;
      };
      const every = Array.from({ length: 1 << BITS }, (_, value) =>
        Array.from({ length: BITS }, (_bit, i) => (value >> (BITS - 1 - i)) & 1),
      );
      const best = every.reduce((a, b) => (scoreOf(b) > scoreOf(a) ? b : a));
      expect([...trellis.bits]).toEqual(best);
      // Each detour costs what its bits cost more than the best.
      for (const { cost, flips } of trellis.detours(50).likeliest) {
        const other = best.map((bit, i) => (flips.includes(i) ? 1 - bit : bit));
        expect(cost).toBeGreaterThanOrEqual(scoreOf(best) - scoreOf(other) - 1e-3);
      }
    }
  });
});

/** Four groups behind a transition in cell 3, however plain. */
const FROM_CELL_4 = {
  start: 4,
  anchorTrail: 0,
  anchorRun: 1,
  groups: 4,
  leastPlainness: -Infinity,
};

test('of all groups that meet the check the likeliest is given, with its share', () => {
  const code = { patterns: [0b1011, 0b1101, 0b1111, 0b1010], width: 4, bits: 2, lanes: 1 as const };
  for (let seed = 0; seed < 8; seed++) {
    const metric = madeUpMetric(`groups ${seed}`, 30, 3);
    const asked = { ...FROM_CELL_4, known: () => -1 };
    const field = readGroups(metric, group, code, asked)!;
    const scoreOf = (values: readonly number[]): number => {
      const ones = values.flatMap((value, at) =>
        [0, 1, 2, 3].flatMap((cell) =>
          (code.patterns[value]! >> (3 - cell)) & 1 ? [4 + 4 * at + cell] : [],
        ),
      );
      const all = [3, ...ones, 20];
      let before = 1;
      let sum = 0;
      for (let i = 0; i + 1 < all.length; i++) {
        const after = all[i + 1]! - all[i]!;
        sum += metric.values[(all[i]! * 3 + before - 1) * 3 + after - 1]!;
        before = after;
      }
      return sum;
    };
    const every = Array.from({ length: 256 }, (_, n) => [
      n >> 6,
      (n >> 4) & 3,
      (n >> 2) & 3,
      n & 3,
    ]);
    const meeting = every.filter((values) => values.reduce((sum, value) => sum ^ value, 0) === 0);
    const best = meeting.reduce((a, b) => (scoreOf(b) > scoreOf(a) ? b : a));
    const mass = meeting.reduce(
      (sum, values) => sum + Math.exp(scoreOf(values) - scoreOf(best)),
      0,
    );
    expect([...field.values]).toEqual(best);
    expect(field.certainty).toBeCloseTo(-Math.log(mass), 4);
    // Nothing is said of times that are less plain than is asked for, to the hair.
    const plainer = (by: number) =>
      readGroups(metric, group, code, { ...asked, leastPlainness: field.plainness + by });
    expect([plainer(1e-6), plainer(-1e-6)?.certainty]).toEqual([null, field.certainty]);
  }
});

/** Figures of 20 for every transition of the values and −20 for all else, four cells a group. */
function plainly(patterns: readonly number[], values: readonly number[]): CellMetric {
  const metric: CellMetric = {
    from: 0,
    cells: 30,
    kinds: 3,
    values: new Float32Array(30 * 9).fill(-20),
  };
  const ones = values.flatMap((value, at) =>
    [0, 1, 2, 3].flatMap((cell) =>
      (patterns[value]! >> (3 - cell)) & 1 ? [4 + 4 * at + cell] : [],
    ),
  );
  for (const one of [3, ...ones]) metric.values.fill(20, one * 9, (one + 1) * 9);
  return metric;
}

test('what the times show plainly is held against its check like everything else', () => {
  const patterns = [0b1011, 0b1101, 0b1111, 0b1010];
  const code = { patterns, width: 4, bits: 2, lanes: 1 as const };
  const asked = { ...FROM_CELL_4, known: () => -1 };
  const meets = readGroups(plainly(patterns, [2, 0, 3, 1]), group, code, asked)!;
  expect([...meets.values]).toEqual([2, 0, 3, 1]);
  expect(meets.certainty).toBeGreaterThan(-1e-7);
  expect(meets.plainness).toBeGreaterThan(-1e-7);
  // As plain, and its check fails: another is likelier than it, and the times speak against that.
  const fails = readGroups(plainly(patterns, [2, 0, 3, 2]), group, code, asked)!;
  expect([...fails.values].reduce((sum, value) => sum ^ value, 0)).toBe(0);
  expect([...fails.values]).not.toEqual([2, 0, 3, 2]);
  expect(fails.plainness).toBeGreaterThan(-1e-7);
});

test('a group that is known counts for no check, and nothing else may stand there', () => {
  const patterns = [0b1011, 0b1101, 0b1111, 0b1010];
  const code = { patterns, width: 4, bits: 2, lanes: 1 as const };
  const known = (at: number) => (at === 0 ? 3 : -1);
  const asked = { ...FROM_CELL_4, known };
  const shown = readGroups(plainly(patterns, [3, 2, 1, 3]), group, code, asked)!;
  expect([...shown.values]).toEqual([3, 2, 1, 3]);
  const hidden = readGroups(plainly(patterns, [1, 2, 1, 3]), group, code, asked)!;
  expect([...hidden.values]).toEqual([3, 2, 1, 3]);
});
