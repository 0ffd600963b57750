/** The plan of reading damaged devices, on fault maps whose every block is known. */
import fc from 'fast-check';
import { seededRandom, type Random } from '../bits/random';
import { ExtentMap } from './extent-map';
import { applyOutcome, DEFAULT_BLOCK_POLICY, SalvagePlan, type BlockOutcome, type PlannedBlocks, type ReadBlocks } from './salvage-plan';

/** Tries that each block needs; 1 where nothing is said, Infinity for one that never reads. */
type Faults = Map<number, number>;

interface Device {
  blocks: number;
  faults: Faults;
  /** Says which block of a request failed. */
  tells?: boolean;
  /** Blocks that need the lowest speed, whatever the try. */
  onlySlowly?: Set<number>;
  slow?: (block: number) => boolean;
}

const band = (from: number, count: number, needs = Infinity): Faults => new Map(Array.from({ length: count }, (_, i) => [from + i, needs]));
const together = (...maps: Faults[]): Faults => new Map(maps.flatMap((map) => [...map]));

function scattered(seed: string, blocks: number, count: number, needs: number | ((random: Random) => number) = Infinity): Faults {
  const random = seededRandom(seed);
  const map: Faults = new Map();
  while (map.size < count) map.set(random.below(blocks), typeof needs === 'number' ? needs : needs(random));
  return map;
}

function stripes(from: number, count: number, every: number, bad: number): Faults {
  return together(...Array.from({ length: count }, (_, i) => band(from + i * every, bad)));
}

const REQUEST = 512;
const planned = ({ blocks }: Device, more: Partial<PlannedBlocks> = {}): PlannedBlocks => ({ ...DEFAULT_BLOCK_POLICY, reach: { from: 0, to: blocks }, request: REQUEST, speeds: [16, 8, 2], ...more });

/** A device that behaves by its fault map, and counts. */
class SimulatedDevice {
  requests = 0;
  failures = 0;
  private readonly tried = new Map<number, number>();

  constructor(private readonly device: Device) {}

  ask({ from, count, speed }: ReadBlocks): BlockOutcome {
    const { faults, tells = true, onlySlowly, slow } = this.device;
    this.requests++;
    for (let i = 0; i < count; i++) {
      const block = from + i;
      const needs = faults.get(block) ?? 1;
      const tries = (this.tried.get(block) ?? 0) + 1;
      if (needs > 1) this.tried.set(block, tries);
      if (tries < needs || (onlySlowly?.has(block) && speed !== 2)) {
        this.failures++;
        return { got: tells ? i : 0, toldWhere: tells, pace: 0 };
      }
    }
    return { got: count, toldWhere: true, pace: slow && Array.from({ length: count }, (_, i) => slow(from + i)).some(Boolean) ? 1 : 0 };
  }
}

/** Reads a device to the end of the plan; the map, and what it took. */
function salvage(device: Device, more: Partial<PlannedBlocks> = {}) {
  const map = new ExtentMap(device.blocks);
  const simulated = new SimulatedDevice(device);
  const plan = new SalvagePlan(map, planned(device, more));
  /** Requests and failures when so many blocks were there. */
  const course: { got: number; requests: number; failures: number }[] = [];
  for (;;) {
    const step = plan.next();
    if (step.kind === 'done') return { map, plan, simulated, course, why: step.why };
    const outcome = step.kind === 'read' ? simulated.ask(step) : null;
    applyOutcome(map, step, outcome);
    const { firm, mended } = map.tally();
    course.push({ got: firm + mended, requests: simulated.requests, failures: simulated.failures });
    if (simulated.requests > 40 * device.blocks) throw new Error('the plan does not end');
  }
}

/**
 * The fewest requests that deliver every readable block and show each other one to be unreadable, for who knows the map:
 * each failure that a block needs is a request of its own, which brings what stands before the block as well.
 */
function fewestRequests({ blocks, faults }: Device, triesOfBad = 1): number {
  let requests = 0;
  let run = 0;
  for (let block = 0; block <= blocks; block++) {
    const needs = block === blocks ? Infinity : (faults.get(block) ?? 1);
    const failures = block === blocks ? 0 : needs === Infinity ? triesOfBad : needs - 1;
    if (failures > 0 || block === blocks) {
      requests += Math.ceil(run / REQUEST) - (run > 0 && failures > 0 ? 1 : 0) + failures;
      run = 0;
    }
    if (needs !== Infinity) run++;
  }
  return requests;
}

const BLOCKS = 200_000;
const random = seededRandom('ragged');
const MAPS: [string, Device][] = [
  ['nothing wrong', { blocks: BLOCKS, faults: new Map() }],
  ['one bad block', { blocks: BLOCKS, faults: band(77_777, 1) }],
  ['a bad band', { blocks: BLOCKS, faults: band(60_000, 3000) }],
  ['bands at both ends', { blocks: BLOCKS, faults: together(band(0, 400), band(BLOCKS - 700, 700)) }],
  ['three bands', { blocks: BLOCKS, faults: together(band(5000, 100), band(90_000, 900), band(150_000, 2500)) }],
  ['a ragged band', { blocks: BLOCKS, faults: new Map(Array.from({ length: 4000 }, (_, i) => 40_000 + i).filter(() => random.next() < 0.5).map((block) => [block, Infinity])) }],
  ['bad blocks all over', { blocks: BLOCKS, faults: scattered('all over', BLOCKS, 120) }],
  ['one head of several', { blocks: BLOCKS, faults: stripes(20_000, 60, 252, 63) }],
  ['a scratch over many turns', { blocks: BLOCKS, faults: stripes(100_000, 150, 19, 3) }],
  ['weak blocks', { blocks: BLOCKS, faults: scattered('weak', BLOCKS, 100, (each) => 2 + each.below(4)) }],
  ['a weak band with a bad heart', { blocks: BLOCKS, faults: together(band(30_000, 200, 2), band(30_200, 300), band(30_500, 200, 3)) }],
  ['all of it at once', { blocks: BLOCKS, faults: together(band(10_000, 600), stripes(70_000, 20, 90, 30), scattered('more', BLOCKS, 60), band(150_000, 90, 3)) }],
];

describe('every fault map', () => {
  test.each(MAPS)('%s: all that reads is read, in few requests, the easy parts first', (name, device) => {
    const { map, simulated, course } = salvage(device);
    const places = name === 'weak blocks' ? device.faults.size : 1;
    const readable = [...Array(device.blocks).keys()].filter((block) => device.faults.get(block) !== Infinity);
    const { firm, mended, lost, unread } = map.tally();
    expect(firm + mended).toBe(readable.length);
    expect({ lost, unread }).toEqual({ lost: device.blocks - readable.length, unread: 0 });
    // Requests until the last readable block was there, against the fewest; each unreadable block costs at least one.
    const complete = course.find(({ got }) => got === readable.length)!;
    const needsMany = Math.max(1, ...[...device.faults.values()].filter((needs) => needs !== Infinity));
    const fewest = fewestRequests(device, needsMany === 1 ? 1 : Math.min(needsMany, 2));
    expect(complete.requests / fewest).toBeLessThanOrEqual(1.5);
    // Each place must fail once before what lies behind it is read: where places give in soon, that is more than a tenth.
    const early = [...course].reverse().find(({ failures }) => failures <= Math.max(places, Math.floor(simulated.failures / 10)))!;
    expect(early.got / readable.length).toBeGreaterThanOrEqual(0.95);
  });

  test.each(MAPS)('%s: a device that only says that a request failed gives the same', (_, device) => {
    const { map } = salvage({ ...device, tells: false });
    expect(map.tally()).toMatchObject({ unread: 0, lost: [...device.faults.values()].filter((needs) => needs === Infinity).length });
  });
});

test('a plan that is taken up anew at any moment reads what one in a piece reads', () => {
  fc.assert(fc.property(fc.array(fc.tuple(fc.nat(1999), fc.integer({ min: 1, max: 60 }), fc.constantFrom(2, 3, Infinity)), { maxLength: 8 }), fc.integer({ min: 1, max: 9 }), fc.boolean(), (bands, every, tells) => {
    const device: Device = { blocks: 2000, tells, faults: together(...bands.map(([from, count, needs]) => band(from, Math.min(count, 2000 - from), needs))) };
    const whole = salvage(device);
    const simulated = new SimulatedDevice(device);
    let map = new ExtentMap(device.blocks);
    let plan = new SalvagePlan(map, planned(device));
    for (let asked = 1; ; asked++) {
      const step = plan.next();
      if (step.kind === 'done') break;
      applyOutcome(map, step, step.kind === 'read' ? simulated.ask(step) : null);
      if (asked % every === 0) {
        map = new ExtentMap(device.blocks, map.extents());
        plan = new SalvagePlan(map, planned(device));
      }
    }
    const { unread, lost } = map.tally();
    expect({ unread, lost }).toEqual({ unread: 0, lost: whole.map.tally().lost });
  }), { numRuns: 60 });
});

test('blocks that read only at the lowest speed are got at it', () => {
  const { map } = salvage({ blocks: 5000, faults: new Map(), onlySlowly: new Set([1000, 1001, 1002, 3000]) });
  expect(map.tally()).toMatchObject({ firm: 4996, mended: 4 });
});

test('a slow stretch waits until the rest is read', () => {
  const device: Device = { blocks: 100_000, faults: new Map(), slow: (block) => block >= 30_000 && block < 34_000 };
  const map = new ExtentMap(device.blocks);
  const simulated = new SimulatedDevice(device);
  const plan = new SalvagePlan(map, planned(device));
  const slowAsked: number[] = [];
  for (let step = plan.next(); step.kind !== 'done'; step = plan.next()) {
    const outcome = step.kind === 'read' ? simulated.ask(step) : null;
    if (outcome && outcome.pace > 0) slowAsked.push(map.tally().firm);
    applyOutcome(map, step, outcome);
  }
  expect(map.tally().firm).toBe(device.blocks);
  // Beside the few that found it out, the slow ones come when all else is there.
  expect(slowAsked.filter((firm) => firm < 90_000).length).toBeLessThanOrEqual(4);
});

test('it stops at a band that gives nothing, and tries a lone block to the last', () => {
  const { map } = salvage({ blocks: 50_000, faults: together(band(10_000, 500), band(30_000, 1)) });
  expect(map.at(10_200)!.tries).toBe(1 + DEFAULT_BLOCK_POLICY.patience);
  expect(map.at(30_000)!.tries).toBe(DEFAULT_BLOCK_POLICY.tries);
});

test('a fragile medium is asked at the lowest speed, and twice at most', () => {
  const device: Device = { blocks: 3000, faults: band(500, 30) };
  const map = new ExtentMap(device.blocks);
  const simulated = new SimulatedDevice(device);
  const plan = new SalvagePlan(map, planned(device, { gentle: true }));
  for (let step = plan.next(); step.kind !== 'done'; step = plan.next()) {
    if (step.kind === 'read') expect(step.speed).toBe(2);
    applyOutcome(map, step, step.kind === 'read' ? simulated.ask(step) : null);
  }
  expect(map.at(510)!.tries).toBe(2);
});

test('only the reach is read', () => {
  const device: Device = { blocks: 9000, faults: band(4090, 20) };
  const { map } = salvage(device, { reach: { from: 1000, to: 4100 } });
  expect(map.tally()).toMatchObject({ firm: 3090, lost: 10, unread: 5900 });
  expect(map.at(999)!.grade).toBe('unread');
});
