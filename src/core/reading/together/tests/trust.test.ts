/** How far turns are trusted: the chain against every sequence of states, the rest against what was put in. */
import fc from 'fast-check';
import { seededRandom } from '@/core/bits/random';
import { alignTurn } from '../align-turn';
import {
  EXTRA_IN_GARBAGE,
  INTO,
  MATCHED_BY_CHANCE,
  OUT,
  STEP,
  garbageOf,
  type TurnTally,
} from '../garbage-chain';
import { openStretches } from '../open-stretches';
import { BLOCK, startModel } from '../track-model';
import { counted } from '../turn-groups';
import { faultsOfMedium, trustOf } from '../turn-trust';
import type { ClockedReading, TurnView } from '../turn-views';
import { votedCells } from '../vote';

const GOOD = { missed: 0.01, extra: 0.002 };
const CELLS = 2000;

const tally = (steps: readonly (readonly [number, number, number])[]): TurnTally => ({
  matched: Float32Array.from(steps, ([matched]) => matched),
  missing: Float32Array.from(steps, ([, missing]) => missing),
  extra: Float32Array.from(steps, ([, , extra]) => extra),
});

/** Transitions of random runs of two to four cells. */
function written(seed: string): number[] {
  const random = seededRandom(seed);
  const cells: number[] = [];
  for (let at = 8; at < CELLS; at += 2 + random.below(3)) cells.push(at);
  return cells;
}

/** One turn of what was written, each transition moved by noise. */
function turnOf(cells: readonly number[], noise: (cell: number) => number): TurnView {
  const places = Float64Array.from(cells, (cell) => cell + noise(cell)).sort();
  return { reading: 0, turn: 0, places, from: 0, to: CELLS };
}

function noisy(seed: string, sigma: number): (cell: number) => number {
  const random = seededRandom(seed);
  return () => sigma * random.normal();
}

/** Random transitions in place of those between two cells. */
function withSpot(view: TurnView, from: number, to: number, seed: string): TurnView {
  const random = seededRandom(seed);
  const spot: number[] = [];
  for (let at = from + 1; at < to; at += 1.5 + 2 * random.next()) spot.push(at);
  const kept = view.places.filter((place) => place < from || place > to);
  return { ...view, places: Float64Array.from([...kept, ...spot]).sort() };
}

function matched(views: readonly TurnView[], cells: readonly number[], reach = 0.5) {
  const expected = Float64Array.from(cells);
  return {
    expected,
    matches: views.map(({ places }) => alignTurn(places, expected, 0.1)),
    reach: expected.map(() => reach),
  };
}

describe('a chain of good and garbage', () => {
  /** The chance of garbage at each step, over every sequence of states. */
  function exhaustive({ matched: had, missing, extra }: TurnTally): number[] {
    const steps = had.length;
    const likelihood = (i: number, isBad: boolean): number => {
      const match = isBad ? MATCHED_BY_CHANCE : 1 - GOOD.missed;
      const more = isBad ? EXTRA_IN_GARBAGE : GOOD.extra;
      return (
        match ** had[i]! * (1 - match) ** missing[i]! * more ** extra[i]! * Math.exp(-STEP * more)
      );
    };
    const bad = new Array<number>(steps).fill(0);
    let all = 0;
    for (let states = 0; states < 1 << steps; states++) {
      const isBad = (i: number) => ((states >> i) & 1) === 1;
      let chance = isBad(0) ? INTO / (INTO + OUT) : OUT / (INTO + OUT);
      for (let i = 0; i < steps; i++) {
        chance *= likelihood(i, isBad(i));
        if (i > 0) {
          const into = isBad(i - 1) ? 1 - OUT : INTO;
          chance *= isBad(i) ? into : 1 - into;
        }
      }
      all += chance;
      for (let i = 0; i < steps; i++) if (isBad(i)) bad[i]! += chance;
    }
    return bad.map((each) => each / all);
  }

  test('its chances are those of all sequences of states', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(4), fc.nat(3), fc.nat(3)), { minLength: 1, maxLength: 9 }),
        (steps) => {
          const own = garbageOf(tally(steps), GOOD);
          exhaustive(tally(steps)).forEach((chance, i) => expect(own[i]).toBeCloseTo(chance, 4));
        },
      ),
    ));

  test('one loss is no garbage, a run of them is, and ends where it ends', () => {
    const good = [3, 0, 0] as const;
    const bad = [1, 2, 2] as const;
    const lossy = [...Array(10).fill(good), [2, 1, 0], ...Array(10).fill(good)];
    expect(Math.max(...garbageOf(tally(lossy), GOOD))).toBeLessThan(0.1);
    const spot = [...Array(10).fill(good), ...Array(6).fill(bad), ...Array(10).fill(good)];
    const chances = garbageOf(tally(spot), GOOD);
    expect([...chances].map((chance) => chance > 0.5)).toEqual(spot.map((step) => step === bad));
  });
});

describe('turns against the sequence', () => {
  const cells = written('trust');
  const turns = (sigma: number, count = 5) =>
    Array.from({ length: count }, (_, i) => turnOf(cells, noisy(`turn ${i}`, sigma)));

  test('a spot that is random in one turn is garbage of that turn only', () => {
    const views = turns(0.05).map((view, i) => (i === 2 ? withSpot(view, 800, 960, 'spot') : view));
    const { garbage, soft, missed } = trustOf(views, matched(views, cells));
    const inside = garbage.map((steps) => steps[Math.floor(880 / STEP)]!);
    expect(inside.map((chance) => chance > 0.5)).toEqual([false, false, true, false, false]);
    expect(garbage[2]![Math.floor(400 / STEP)]).toBeLessThan(0.1);
    expect(soft.every((each) => each === 0)).toBe(true);
    expect(missed).toBeLessThan(0.005);
  });

  test('where most turns seem garbage at once the medium is soft, and no turn is given up', () => {
    const views = turns(0.05).map((view, i) => withSpot(view, 800, 960, `spot ${i}`));
    const { garbage, soft } = trustOf(views, matched(views, cells));
    expect(soft[Math.floor(880 / BLOCK)]).toBe(1);
    expect(soft[Math.floor(400 / BLOCK)]).toBe(0);
    expect(Math.max(...garbage.map((steps) => steps[Math.floor(880 / STEP)]!))).toBeLessThan(0.1);
  });

  test('what lies elsewhere in all turns, and what none has, is counted for the medium', () => {
    const isMoved = (cell: number) => cell === cells[100] || cell === cells[300];
    const views = turns(0.03).map((view) => ({
      ...view,
      places: view.places
        .map((place) =>
          cells.some((cell) => isMoved(cell) && Math.abs(place - cell) < 0.3) ? place + 0.6 : place,
        )
        .filter((place) => Math.abs(place - cells[500]!) > 0.3),
    }));
    const of = cells.length + 1000;
    const { lost, moved } = faultsOfMedium(views, matched(views, cells), () => 0.03);
    expect(lost * of).toBeCloseTo(1.5);
    expect(moved * of).toBeCloseTo(2.5);
  });

  test('each transition is counted by the middle of its group, also one the sequence left out', () => {
    const views = turns(0.2);
    const left = cells[200]!;
    const without = Float64Array.from(cells.filter((cell) => cell !== left));
    const matches = views.map(({ places }) => alignTurn(places, without, 0.2));
    const near = counted(views, without, matches, 0.2).map(({ counted: own }) =>
      own.filter((place) => Math.abs(place - left) < 0.9),
    );
    expect(near.map(({ length }) => length)).toEqual([1, 1, 1, 1, 1]);
    expect(new Set(near.map(([place]) => place)).size).toBe(1);
  });

  test('a vote has what most trusted turns have, and none where too few have a say', () => {
    const views = turns(0.1, 3).map((view, i) => ({
      ...(i === 0 ? withSpot(view, 800, 960, 'vote') : view),
      counted: view.places,
    }));
    const model = startModel('mfm', 0, 3, CELLS);
    const isRight = (votes: Int8Array, from: number, to: number) =>
      Array.from(
        { length: to - from },
        (_, i) => votes[from + i] === (cells.includes(from + i) ? 1 : 0),
      );
    const votes = votedCells(views, model, CELLS);
    expect(isRight(votes, 100, 1900).every(Boolean)).toBe(true);
    model.garbage[1]!.fill(0.5);
    expect(isRight(votedCells(views, model, CELLS), 1000, 1900).every(Boolean)).toBe(true);
    expect(votedCells(views.slice(0, 2), model, CELLS).every((vote) => vote === -1)).toBe(true);
  });
});

describe('what is still to be read', () => {
  // A tick a cell, and a turn of a thousand.
  const times = Float64Array.from({ length: 3000 }, (_, i) => i);
  const reading = { index: [100, 1100, 2100] } as unknown as ClockedReading['reading'];
  const clocked: ClockedReading = { reading, times, count: times.length, places: times };
  const sector = (from: number, to: number, turn = 0) => {
    const base = 100 + 1000 * turn;
    return { reading, turn, startTick: base + from, endTick: base + to };
  };

  test('without a sound sector it is the whole track', () =>
    expect(openStretches([clocked], [], 1000, 1300)).toEqual([{ from: 0, to: 1300 }]));

  test('sound sectors are left out, one of them apart, whichever turn had them', () => {
    const known = [sector(0, 300), sector(300, 600, 1)];
    expect(openStretches([clocked], known, 1000, 1000)).toEqual([
      { from: 0, to: 364 },
      { from: 536, to: 1000 },
    ]);
  });

  test('one that runs past the index is left out at the beginning too, and no gap is looked at', () => {
    const known = [sector(510, 840), sector(850, 1150), sector(160, 500)];
    expect(openStretches([clocked], known, 1000, 1000)).toEqual([{ from: 436, to: 914 }]);
  });

  test('a reading that is not one of these counts for nothing', () => {
    const other = { ...sector(0, 900), reading: { ...reading } };
    expect(openStretches([clocked], [other], 1000, 1000)).toEqual([{ from: 0, to: 1000 }]);
  });
});
