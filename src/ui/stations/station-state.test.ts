/** What a station waits for, and whether it is at work. */
import { mediumIn, sittingAt, station } from '../../../tests/support/stations';
import type { Station } from '../data/queries';
import { doing, isBusy, waitsFor } from './station-state';

const writeback = (state: string, now: string) =>
  ({ id: 6, state, now }) as unknown as Station['writeback'];
const selfTest = (state: string, now: string) =>
  ({ id: 4, state, now }) as unknown as Station['test'];

test.each(['waiting', 'reading', 'held', 'settling'] as const)(
  'a sitting that is %s keeps the drive busy',
  (state) => expect(isBusy(station({ sitting: sittingAt(state) }))).toBe(true),
);

test.each(['paused', 'dirty', 'asks'] as const)('one that is %s does not', (state) =>
  expect(isBusy(station({ sitting: sittingAt(state) }))).toBe(false),
);

test('a write-back keeps it busy unless it asks for a hand; a test until it is over', () => {
  expect(isBusy(station({ writeback: writeback('writing', '') }))).toBe(true);
  expect(isBusy(station({ writeback: writeback('asks', '') }))).toBe(false);
  for (const [state, busy] of [
    ['waiting', true],
    ['reading', true],
    ['held', true],
    ['done', false],
    ['failed', false],
  ] as const)
    expect([state, isBusy(station({ test: selfTest(state, '') }))]).toEqual([state, busy]);
});

test('a hand is asked for by the write-back first, then the test, then the sitting', () => {
  const all = station({
    writeback: writeback('asks', 'from the write-back'),
    test: selfTest('held', 'from the test'),
    sitting: { ...sittingAt('held')!, now: 'from the sitting' },
  });
  expect(waitsFor(all)).toBe('from the write-back');
  expect(waitsFor({ ...all, writeback: null })).toBe('from the test');
  expect(waitsFor({ ...all, writeback: null, test: null })).toBe('from the sitting');
  expect(waitsFor(station())).toBeNull();
});

test('the next blank of the queue comes before the next disk of a stack, and its trouble before both', () => {
  const stack = {
    id: 1,
    codes: ['TST-0008'],
    begun: 0,
    next: 'TST-0008',
    awaits: 'in',
    trouble: null,
  } as Station['stack'];
  const queued = { stationId: 3, code: 'TST-0900', trouble: null };
  expect(waitsFor(station({ stack, nextWriteback: queued }))).toContain('TST-0900');
  expect(waitsFor(station({ stack, nextWriteback: { ...queued, trouble: 'No blank.' } }))).toBe(
    'No blank.',
  );
  expect(waitsFor(station({ stack }))).toContain('TST-0008');
  expect(waitsFor(station({ stack: { ...stack!, trouble: 'Another disk is in.' } }))).toBe(
    'Another disk is in.',
  );
});

test('what it does is said where it waits for nothing', () => {
  expect(doing(station({ sitting: sittingAt('reading') }))).toBe('Reading.');
  expect(doing(station({ writeback: writeback('writing', 'Track 3 of 160.') }))).toBe(
    'Track 3 of 160.',
  );
  expect(doing(station({ test: selfTest('reading', 'Testing.') }))).toBe('Testing.');
  expect(doing(station({ medium: mediumIn() }))).not.toBe(doing(station()));
});
