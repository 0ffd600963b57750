/**
 * Devices with fault maps whose every block is known, read by the salvage plan: for its tests, and
 * for the figures of the bench.
 */
import { seededRandom, type Random } from '@/core/bits/random';
import { ExtentMap } from '@/core/block/extent-map';
import {
  DEFAULT_BLOCK_POLICY,
  SalvagePlan,
  type PlannedBlocks,
  type ReadBlocks,
} from '@/core/block/salvage-plan';
import { applyOutcome, type BlockOutcome } from '@/core/block/apply-outcome';

/** Tries that each block needs; 1 where nothing is said, Infinity for one that never reads. */
export type Faults = Map<number, number>;

export interface Device {
  blocks: number;
  faults: Faults;
  /** Says which block of a request failed. */
  tells?: boolean;
  /** Blocks that need the lowest speed, whatever the try. */
  onlySlowly?: Set<number>;
  slow?: (block: number) => boolean;
}

export const band = (from: number, count: number, needs = Infinity): Faults =>
  new Map(Array.from({ length: count }, (_, i) => [from + i, needs]));
export const together = (...maps: Faults[]): Faults => new Map(maps.flatMap((map) => [...map]));

function scattered(
  seed: string,
  blocks: number,
  count: number,
  needs: number | ((random: Random) => number) = Infinity,
): Faults {
  const random = seededRandom(seed);
  const map: Faults = new Map();
  while (map.size < count)
    map.set(random.below(blocks), typeof needs === 'number' ? needs : needs(random));
  return map;
}

function stripes(from: number, count: number, every: number, bad: number): Faults {
  return together(...Array.from({ length: count }, (_, i) => band(from + i * every, bad)));
}

const REQUEST = 512;
export const planned = ({ blocks }: Device, more: Partial<PlannedBlocks> = {}): PlannedBlocks => ({
  ...DEFAULT_BLOCK_POLICY,
  range: { from: 0, to: blocks },
  request: REQUEST,
  speeds: [16, 8, 2],
  ...more,
});

/** A device that behaves by its fault map, and counts. */
export class SimulatedDevice {
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
    return {
      got: count,
      toldWhere: true,
      pace: slow && Array.from({ length: count }, (_, i) => slow(from + i)).some(Boolean) ? 1 : 0,
    };
  }
}

/** Reads a device to the end of the plan; the map, and what it took. */
export function salvage(device: Device, more: Partial<PlannedBlocks> = {}) {
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
 * The fewest requests that deliver every readable block and show each other one to be unreadable,
 * for who knows the map:
 * each failure that a block needs is a request of its own, which brings what stands before the
 * block as well.
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
export const FAULT_MAPS: readonly [string, Device][] = [
  ['nothing wrong', { blocks: BLOCKS, faults: new Map() }],
  ['one bad block', { blocks: BLOCKS, faults: band(77_777, 1) }],
  ['a bad band', { blocks: BLOCKS, faults: band(60_000, 3000) }],
  [
    'bands at both ends',
    { blocks: BLOCKS, faults: together(band(0, 400), band(BLOCKS - 700, 700)) },
  ],
  [
    'three bands',
    { blocks: BLOCKS, faults: together(band(5000, 100), band(90_000, 900), band(150_000, 2500)) },
  ],
  [
    'a ragged band',
    {
      blocks: BLOCKS,
      faults: new Map(
        Array.from({ length: 4000 }, (_, i) => 40_000 + i)
          .filter(() => random.next() < 0.5)
          .map((block) => [block, Infinity]),
      ),
    },
  ],
  ['bad blocks all over', { blocks: BLOCKS, faults: scattered('all over', BLOCKS, 120) }],
  ['one head of several', { blocks: BLOCKS, faults: stripes(20_000, 60, 252, 63) }],
  ['a scratch over many turns', { blocks: BLOCKS, faults: stripes(100_000, 150, 19, 3) }],
  [
    'weak blocks',
    { blocks: BLOCKS, faults: scattered('weak', BLOCKS, 100, (each) => 2 + each.below(4)) },
  ],
  [
    'a weak band with a bad heart',
    {
      blocks: BLOCKS,
      faults: together(band(30_000, 200, 2), band(30_200, 300), band(30_500, 200, 3)),
    },
  ],
  [
    'all of it at once',
    {
      blocks: BLOCKS,
      faults: together(
        band(10_000, 600),
        stripes(70_000, 20, 90, 30),
        scattered('more', BLOCKS, 60),
        band(150_000, 90, 3),
      ),
    },
  ],
];

interface SalvageFigures {
  /** All that reads was read, and nothing else. */
  complete: boolean;
  requests: number;
  fewest: number;
  /**
   * Of the readable blocks, when a tenth of the failures was spent that the bad areas cost in all.
   */
  early: number;
}

/** How the plan does on a device. Requests are counted until the last readable block is there. */
export function salvageFigures(name: string, device: Device): SalvageFigures {
  const { map, simulated, course } = salvage(device);
  // Each place must fail once before what lies behind it is read: where places give in soon, that
  // is more than a tenth.
  const places = name === 'weak blocks' ? device.faults.size : 1;
  const needs = [...device.faults.values()];
  const readable = device.blocks - needs.filter((each) => each === Infinity).length;
  const { firm, mended, lost, unread } = map.tally();
  const needsMany = Math.max(1, ...needs.filter((each) => each !== Infinity));
  const early = [...course]
    .reverse()
    .find(({ failures }) => failures <= Math.max(places, Math.floor(simulated.failures / 10)))!;
  return {
    complete: firm + mended === readable && lost === device.blocks - readable && unread === 0,
    requests: course.find(({ got }) => got === readable)!.requests,
    fewest: fewestRequests(device, needsMany === 1 ? 1 : 2),
    early: early.got / readable,
  };
}
