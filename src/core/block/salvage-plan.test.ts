/** The plan of reading damaged devices, on fault maps whose every block is known. */
import fc from 'fast-check';
import {
  band,
  FAULT_MAPS,
  planned,
  salvage,
  salvageFigures,
  SimulatedDevice,
  together,
  type Device,
} from '../../../tests/support/fault-maps';
import { ExtentMap } from './extent-map';
import { DEFAULT_BLOCK_POLICY, SalvagePlan } from './salvage-plan';
import { applyOutcome } from './apply-outcome';

describe('every fault map', () => {
  test.each(FAULT_MAPS)(
    '%s: all that reads is read, in few requests, the easy parts first',
    (name, device) => {
      const { complete, requests, fewest, early } = salvageFigures(name, device);
      expect(complete).toBe(true);
      expect(requests / fewest).toBeLessThanOrEqual(1.5);
      expect(early).toBeGreaterThanOrEqual(0.95);
    },
  );

  test.each(FAULT_MAPS)(
    '%s: a device that only says that a request failed gives the same',
    (_, device) => {
      const { map } = salvage({ ...device, tells: false });
      expect(map.tally()).toMatchObject({
        unread: 0,
        lost: [...device.faults.values()].filter((needs) => needs === Infinity).length,
      });
    },
  );
});

test('a plan that is taken up anew at any moment reads what one in a piece reads', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.tuple(fc.nat(1999), fc.integer({ min: 1, max: 60 }), fc.constantFrom(2, 3, Infinity)),
        { maxLength: 8 },
      ),
      fc.integer({ min: 1, max: 9 }),
      fc.boolean(),
      (bands, every, tells) => {
        const device: Device = {
          blocks: 2000,
          tells,
          faults: together(
            ...bands.map(([from, count, needs]) => band(from, Math.min(count, 2000 - from), needs)),
          ),
        };
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
      },
    ),
    { numRuns: 60 },
  );
});

test('blocks that read only at the lowest speed are got at it', () => {
  const { map } = salvage({
    blocks: 5000,
    faults: new Map(),
    onlySlowly: new Set([1000, 1001, 1002, 3000]),
  });
  expect(map.tally()).toMatchObject({ firm: 4996, mended: 4 });
});

test('a slow stretch waits until the rest is read', () => {
  const device: Device = {
    blocks: 100_000,
    faults: new Map(),
    slow: (block) => block >= 30_000 && block < 34_000,
  };
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

test('only the range is read', () => {
  const device: Device = { blocks: 9000, faults: band(4090, 20) };
  const { map } = salvage(device, { range: { from: 1000, to: 4100 } });
  expect(map.tally()).toMatchObject({ firm: 3090, lost: 10, unread: 5900 });
  expect(map.at(999)!.grade).toBe('unread');
});
