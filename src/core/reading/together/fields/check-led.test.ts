/** Fields led by their check, and how often what is made of them is wrong. */
import fc from 'fast-check';
import { crc16 } from '@/core/bits/crc16';
import { seededRandom } from '@/core/bits/random';
import { calibration, doubtfulField } from '../../../../../tests/support/doubtful-field';
import { chanceOfAnother, checkLed, countUpTo, syndromes } from './check-led';

test('the syndrome of every bit is what it leaves in the register', () => {
  const bits = 8 * 9;
  const table = syndromes(bits);
  const bytes = new Uint8Array(9);
  for (let bit = 0; bit < bits; bit++) {
    bytes.fill(0);
    bytes[bit >> 3] = 0x80 >> (bit & 7);
    expect(table[bit]).toBe(crc16(bytes, 0, 9, 0));
  }
});

const event = (bit: number, cost: number) => ({
  cost,
  from: 20 * bit,
  to: 20 * bit + 4,
  flips: [bit],
});

test('the cheapest set that makes it right is found, with how many are as cheap', () => {
  const bits = 200;
  const table = syndromes(bits);
  const events = [3, 40, 77, 110, 150].map((bit, i) => event(bit, 1 + i));
  const failing = table[40]! ^ table[110]!;
  const led = checkLed(events, bits, failing)!;
  expect([led.flips, led.cost]).toEqual([[40, 110], 6]);
  expect(led.wrong).toBeLessThan(1e-3);
  // Sets of costs 1 … 5 that come to 6 at the most, nothing among them.
  const most = events.reduce<number[]>(
    (sums, { cost }) => [...sums, ...sums.map((sum) => sum + cost)],
    [0],
  );
  expect(led.candidates).toBe(most.filter((sum) => sum <= 6).length);
  expect(countUpTo(events, 0)).toBe(1);
});

test('what none of the list makes right is left', () =>
  expect(checkLed([event(3, 1)], 200, 0x1234)).toBeNull());

test('detours that touch one another are no set', () => {
  const table = syndromes(100);
  const near = [
    { cost: 1, from: 0, to: 10, flips: [2] },
    { cost: 1, from: 5, to: 15, flips: [7] },
  ];
  expect(checkLed(near, 100, table[2]! ^ table[7]!)).toBeNull();
});

test('a check that is right stays so, and is believed by what else would make it right', () => {
  const sure = checkLed([event(3, 18), event(40, 20)], 200, 0)!;
  expect([sure.flips, sure.cost, sure.candidates]).toEqual([[], 0, 1]);
  expect(sure.wrong).toBeLessThan(1e-9);
  // Three that turned over together leave it right.
  const three = [event(10, 1), event(11, 1.5), { cost: 2, from: 900, to: 904, flips: [10, 11] }];
  const doubted = checkLed(three, 200, 0)!;
  expect(doubted.flips).toEqual([]);
  expect(doubted.wrong).toBeGreaterThan(Math.exp(-4.5) / 2);
});

test('the chance of another is told as if sets not examined passed once in 65,536', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.05, max: 9, noNaN: true }), { minLength: 1, maxLength: 9 }),
      fc.double({ min: 0.5, max: 14, noNaN: true }),
      (costs, next) => {
        const detours = costs.sort((a, b) => a - b).map((cost) => ({ cost }));
        const exact = (upTo: number) => {
          let unknown = 0;
          for (let set = 0; set < 1 << costs.length; set++) {
            const chosen = costs.filter((_, i) => (set >> i) & 1);
            const cost = chosen.reduce((sum, each) => sum + each, 0);
            if (chosen.length > 4 || cost >= upTo) unknown += Math.exp(-cost);
          }
          const others = Math.exp(-next) + unknown / 65_536;
          return others / (others + 1);
        };
        const told = chanceOfAnother(detours, 0, next);
        // Costs are counted in steps of a quarter, each rounded to what tells more doubt.
        expect(told).toBeGreaterThanOrEqual(exact(next) * (1 - 1e-9));
        expect(told).toBeLessThanOrEqual(exact(next - 1.25) * (1 + 1e-9));
      },
    ),
  );
});

test('what costs more is believed less, and so is what has a rival', () => {
  const { detours } = doubtfulField(seededRandom('more'));
  const told = [0, 2, 4, 8].map((cost) => chanceOfAnother(detours, cost, cost + 20));
  expect(told).toEqual([...told].sort((a, b) => a - b));
  expect(chanceOfAnother(detours, 2, 3)).toBeGreaterThan(chanceOfAnother(detours, 2, 12));
});

test('what may be otherwise in more places than are tried counts as well', () => {
  const near = Array.from({ length: 3000 }, (_, bit) => event(bit, 6.2));
  const few = checkLed(near.slice(0, 300), 4000, 0)!.wrong;
  const many = checkLed(near, 4000, 0)!.wrong;
  // Of 3,000 places each otherwise once in 500 some six are: next to nothing of that was tried.
  expect(few).toBeLessThan(1e-5);
  expect(many).toBeGreaterThan(Math.exp(3000 * Math.exp(-6.2)) / 65_536 / 2);
});

test('of many fields in doubt no more are wrong than is told, decade by decade', () => {
  const decades = calibration(seededRandom('told'), 4000);
  const held = decades.filter(({ fields }) => fields > 20);
  expect(held.length).toBeGreaterThan(3);
  for (const { told, found } of held) expect(found).toBeLessThan(told + 3 * Math.sqrt(told) + 1.5);
  // Where much is told there is something to find: the test can fail.
  expect(decades.at(-1)!.found).toBeGreaterThan(10);
});
