import { SHIPPED_LAYOUTS, shippedLayout } from '@/core/layout/shipped';
import { expectationAt } from '../decode/expectation';
import { settleTold, type ToldStatus, type ControllerTrack } from './controller-tracks';
import { decodeTold } from './controller-capture';

const layout = shippedLayout('mfm-35-9x512')!;
const track = (
  cylinder: number,
  head: number,
  pass: number,
  statuses: readonly (ToldStatus | null)[],
): ControllerTrack => ({
  cylinder,
  head,
  pass,
  encoding: 'mfm',
  rateKbps: 250,
  sectors: statuses.flatMap((status, i) =>
    status ? [{ c: cylinder, h: head, r: i + 1, n: 2, size: 512, status }] : [],
  ),
  data: Uint8Array.from(
    { length: statuses.filter(Boolean).length * 512 },
    (_, i) => (i >> 9) + cylinder + pass,
  ),
});
const right = Array<ToldStatus>(9).fill('right');

test('grades rest on what the drive says, and say so', () => {
  const first = track(3, 1, 1, [
    'right',
    'wrong-check',
    'no-data',
    null,
    'right-deleted',
    'wrong-check',
    'right',
    'right',
    'right',
  ]);
  const second = track(3, 1, 2, [
    'right',
    'right',
    'no-data',
    null,
    'right',
    'wrong-check',
    'right',
    'right',
    'right',
  ]);
  const { sectors } = settleTold([first, second], expectationAt(layout, 1, 3, 1), 300);
  const by = Object.fromEntries(sectors.map((sector) => [sector.r, sector]));
  expect(Object.fromEntries(sectors.map(({ r, grade }) => [r, grade]))).toEqual({
    1: 'firm',
    2: 'mended',
    3: 'doubtful',
    4: 'lost',
    5: 'firm',
    6: 'doubtful',
    7: 'firm',
    8: 'firm',
    9: 'firm',
  });
  expect(by[2]).toMatchObject({
    mending: 'another-pass',
    why: { code: 'controller.checkIsRight' },
    source: { pass: 2, recovery: 'told' },
  });
  // Bytes are cut by the sectors that are there, not by their numbers.
  expect([by[2]!.data![0], by[5]!.data![0], by[9]!.data![0]]).toEqual([
    1 + 3 + 2,
    3 + 3 + 1,
    7 + 3 + 1,
  ]);
  expect([by[3]!.data, by[5]!.deleted, by[6]!.why]).toEqual([
    null,
    true,
    { code: 'controller.checkIsWrong' },
  ]);
});

test('the layout is found from the IDs that the drive told', () => {
  const controller = Array.from({ length: 20 }, (_, i) => track(i >> 1, i & 1, 1, right));
  const decoded = decodeTold(controller, SHIPPED_LAYOUTS, '3.5', 300);
  expect([decoded.layout?.id, decoded.stepping, decoded.tracks.length]).toEqual([
    'mfm-35-9x512',
    1,
    20,
  ]);
});
