/** What is offered at a station, by what goes on there: the keys, whom they ask, and when. */
import { mediumIn, sittingAt, station } from '../../../tests/support/stations';
import type { Station } from '../data/queries';
import { actionsAt, keysAt } from './station-actions';

const BLOCK_DRIVE = { bus: 'bus', speeds: [], delivers: 'blocks', writes: false } as const;
const offered = (each: Station) => actionsAt(each).map(({ key, path, body }) => [key, path, body]);
const asTest = (state: string) => ({ id: 4, state, now: 'Testing.' }) as unknown as Station['test'];
const asWriteback = (state: string) =>
  ({ id: 6, state, now: 'Writing.' }) as unknown as Station['writeback'];
const stackOf = (next: string | null) =>
  ({ id: 1, codes: ['TST-0007'], begun: 0, next, awaits: 'in', trouble: null }) as Station['stack'];

test('an empty drive of tracks takes only that its head is clean; one of blocks has no head to clean', () => {
  expect(offered(station())).toEqual([['c', '/api/stations/3', { action: 'clean' }]]);
  expect(offered(station({ abilities: BLOCK_DRIVE as unknown as Station['abilities'] }))).toEqual(
    [],
  );
});

test('an original is looked at or read, or taken out; a blank or a reference disk never read as one', () => {
  expect(offered(station({ medium: mediumIn() }))).toEqual([
    ['l', '/api/stations/3', { action: 'start', unattended: false }],
    ['u', '/api/stations/3', { action: 'start', unattended: true }],
    ['o', '/api/stations/3', { action: 'remove' }],
  ]);
  expect(offered(station({ medium: mediumIn({ isBlank: true }) }))).toEqual([
    ['o', '/api/stations/3', { action: 'remove' }],
  ]);
  expect(offered(station({ medium: mediumIn({ isReference: true }) }))).toEqual([
    ['t', '/api/stations/3', { action: 'test' }],
    ['o', '/api/stations/3', { action: 'remove' }],
  ]);
});

test.each([
  ['reading', ['p', 's']],
  ['held', ['p', 's']],
  ['waiting', ['p', 's']],
  ['paused', ['g', 's']],
  ['dirty', ['c', 'g', 's']],
  ['asks', ['s']],
  ['settling', ['w']],
] as const)('while a sitting is %s its keys are %j', (state, keys) => {
  const at = station({ medium: mediumIn(), sitting: sittingAt(state) });
  expect(actionsAt(at).map(({ key }) => key)).toEqual(keys);
});

test('what is asked of a sitting goes to the sitting, and to no other', () => {
  const at = station({ medium: mediumIn(), sitting: sittingAt('reading') });
  expect(offered(at)).toEqual([
    ['p', '/api/sittings/11', { requestedAction: 'pause' }],
    ['s', '/api/sittings/11', { requestedAction: 'stop' }],
  ]);
});

test('a stack is gone on with while a disk of it waits, and can be ended at any rate', () => {
  expect(offered(station({ stack: stackOf('TST-0008') }))).toEqual([
    ['n', '/api/stations/3', { action: 'next' }],
    ['c', '/api/stations/3', { action: 'clean' }],
    ['e', '/api/stations/3', { action: 'end-stack' }],
  ]);
  expect(actionsAt(station({ stack: stackOf(null) })).map(({ key }) => key)).toEqual(['c', 'e']);
});

test('a drive that is at work takes on nothing else, but a test can be given up', () => {
  const writing = station({ medium: mediumIn(), writeback: asWriteback('writing') });
  expect(actionsAt(writing).map(({ isOpen }) => isOpen)).toEqual([false, false, false]);
  expect(keysAt(writing)).toEqual([]);
  const testing = station({ medium: mediumIn({ isReference: true }), test: asTest('reading') });
  expect(keysAt(testing).map(({ key, body }) => [key, body])).toEqual([
    ['x', { action: 'end-test' }],
  ]);
  const over = station({ medium: mediumIn({ isReference: true }), test: asTest('done') });
  expect(keysAt(over).map(({ key }) => key)).toEqual(['t', 'o']);
});

test('no key has two meanings at once, and no action writes', () => {
  const media = [null, mediumIn(), mediumIn({ isBlank: true }), mediumIn({ isReference: true })];
  const states = ['reading', 'held', 'waiting', 'paused', 'dirty', 'asks', 'settling'] as const;
  const sittings = [null, ...states.map(sittingAt)];
  for (const medium of media)
    for (const sitting of sittings)
      for (const stack of [null, stackOf('TST-0008'), stackOf(null)]) {
        const actions = actionsAt(station({ medium, sitting, stack }));
        const keys = actions.map(({ keyOnPage }) => keyOnPage);
        expect(new Set(keys).size).toBe(keys.length);
        expect(JSON.stringify(actions.map(({ body }) => body))).not.toMatch(/write|prove|agree/);
      }
});

test('one action at most stands out', () => {
  const primary = (each: Station) =>
    actionsAt(each)
      .filter(({ isPrimary }) => isPrimary)
      .map(({ key }) => key);
  expect(primary(station())).toEqual([]);
  expect(primary(station({ cleaningDue: 'due' as unknown as Station['cleaningDue'] }))).toEqual([
    'c',
  ]);
  expect(primary(station({ medium: mediumIn() }))).toEqual(['l']);
  expect(primary(station({ sitting: sittingAt('dirty') }))).toEqual(['c']);
  expect(primary(station({ sitting: sittingAt('paused') }))).toEqual(['g']);
});
