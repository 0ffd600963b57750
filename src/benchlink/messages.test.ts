/** Messages of the bench protocol: what either side may say, and what is refused of it. */
import {
  BlocksResult,
  DriveDescription,
  Greeting,
  Request,
  Response,
  SectorsResult,
  TrackResult,
} from './messages';

const takes = (schema: { safeParse(value: unknown): { success: boolean } }, value: unknown) =>
  schema.safeParse(value).success;

const READ = {
  id: 1,
  op: 'read-track',
  drive: 'A',
  cylinder: 3,
  head: 1,
  pass: 0,
  revolutions: 3,
  approach: 'plain',
};

test.each([
  ['a read', READ],
  [
    'a write of a track',
    { id: 2, op: 'write-track', drive: 'A', cylinder: 3, head: 1, index: [0, 9], payload: 10 },
  ],
  [
    'blocks',
    { id: 3, op: 'read-blocks', drive: 'B', from: 0, count: 65_536, speed: null, flags: true },
  ],
  ['a cancellation', { id: 4, op: 'cancel', target: 3 }],
  ['a line', { id: 5, op: 'line-open', line: 'L1', rate: 300 }],
])('%s is taken', (_, request) => expect(takes(Request, request)).toBe(true));

test.each([
  ['no number', { ...READ, id: undefined }],
  ['number 0', { ...READ, id: 0 }],
  ['another operation', { ...READ, op: 'erase' }],
  ['a cylinder that no drive has', { ...READ, cylinder: 256 }],
  ['a third head', { ...READ, head: 2 }],
  ['half a turn', { ...READ, revolutions: 0.5 }],
  ['turns without end', { ...READ, revolutions: 1000 }],
  ['an approach of its own', { ...READ, approach: 'fast' }],
  [
    'more blocks than one request takes',
    { id: 3, op: 'read-blocks', drive: 'B', from: 0, count: 65_537, speed: null, flags: false },
  ],
  [
    'no blocks',
    { id: 3, op: 'read-blocks', drive: 'B', from: 0, count: 0, speed: null, flags: false },
  ],
  [
    'a block before the first',
    { id: 3, op: 'read-blocks', drive: 'B', from: -1, count: 1, speed: null, flags: false },
  ],
  [
    'a payload over the limit',
    { id: 2, op: 'write-blocks', drive: 'A', from: 0, count: 1, payload: 2 ** 27 },
  ],
])('a request with %s is refused', (_, request) => expect(takes(Request, request)).toBe(false));

test('an answer is right or wrong, and a failure has a name', () => {
  expect(takes(Response, { id: 1, ok: true, result: {} })).toBe(true);
  expect(takes(Response, { id: 1, ok: true, result: null, payload: 0 })).toBe(true);
  expect(takes(Response, { id: 1, ok: false, failure: 'time-out', message: 'No index.' })).toBe(
    true,
  );
  expect(takes(Response, { id: 1, ok: false, failure: 'bad luck', message: '' })).toBe(false);
  expect(takes(Response, { id: 1, ok: false, message: 'No index.' })).toBe(false);
  expect(takes(Response, { id: 1, ok: false, failure: 'refused', message: 'x'.repeat(3000) })).toBe(
    false,
  );
});

test('a greeting is of this protocol and this version', () => {
  const greeting = { hello: 'frail-spindle-bench', version: 1, bench: 'b', simulated: true };
  expect(takes(Greeting, greeting)).toBe(true);
  expect(takes(Greeting, { ...greeting, version: 2 })).toBe(false);
  expect(takes(Greeting, { ...greeting, hello: 'other' })).toBe(false);
});

test('a drive of tracks and one of blocks say different things of themselves', () => {
  const named = { id: 'A', model: 'm', serial: 's', writes: true };
  const tracks = {
    ...named,
    form: '3.5',
    cylinders: 80,
    heads: 2,
    tickHz: 24e6,
    rpm: 300,
    delivers: 'flux',
  };
  const blocks = { ...named, form: 'hard-disk', delivers: 'blocks', bus: 'b', speeds: [] };
  expect([takes(DriveDescription, tracks), takes(DriveDescription, blocks)]).toEqual([true, true]);
  expect(takes(DriveDescription, { ...tracks, form: 'hard-disk' })).toBe(false);
  expect(takes(DriveDescription, { ...blocks, form: '3.5' })).toBe(false);
  expect(takes(DriveDescription, { ...blocks, speeds: [0] })).toBe(false);
  expect(takes(DriveDescription, { ...tracks, tickHz: 0 })).toBe(false);
});

test('results are bounded', () => {
  const track = { cylinder: 0, head: 0, pass: 0, index: [0, 4_800_000] };
  expect(takes(TrackResult, track)).toBe(true);
  expect(takes(TrackResult, { ...track, index: Array(5000).fill(0) })).toBe(false);
  const told = { c: 0, h: 0, r: 1, n: 2, size: 512, status: 'right' };
  const sectors = {
    cylinder: 0,
    head: 0,
    pass: 0,
    encoding: 'mfm',
    rateKbps: 250,
    sectors: [told],
  };
  expect(takes(SectorsResult, sectors)).toBe(true);
  expect(takes(SectorsResult, { ...sectors, sectors: Array(257).fill(told) })).toBe(false);
  expect(takes(SectorsResult, { ...sectors, sectors: [{ ...told, size: 65_536 }] })).toBe(false);
  const blocks = { got: 3, stopped: { why: 'unreadable', toldWhere: true }, ms: 1, flags: false };
  expect(takes(BlocksResult, blocks)).toBe(true);
  expect(takes(BlocksResult, { ...blocks, stopped: { why: 'tired', toldWhere: true } })).toBe(
    false,
  );
});
