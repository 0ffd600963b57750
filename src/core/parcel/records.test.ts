/** Records of a parcel follow their own schemas, which are those in the docs. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { CopyRecord, copyJsonSchema } from './copy-record';
import { Elsewhere, EventsFile, eventsJsonSchema } from './event-record';

const inDocs = (name: string): unknown =>
  JSON.parse(readFileSync(join(__dirname, '../../../docs/formats', name), 'utf8'));

test('the schemas in the docs are those in use', () => {
  expect(inDocs('copy.schema.json')).toEqual(JSON.parse(JSON.stringify(copyJsonSchema())));
  expect(inDocs('events.schema.json')).toEqual(JSON.parse(JSON.stringify(eventsJsonSchema())));
});

const COPY = {
  ...{ format: 'frail-spindle-copy', version: 1, sidecar: null, capture: null, layout: null },
  image: { name: 'a.img', bytes: 10, sha256: 'a'.repeat(64) },
  ...{ source: 'upload', sourceName: null, madeBy: 'Tam', madeAt: '2026-12-01T02:00:00.000Z' },
  ...{ tally: null, problems: [], inDoubt: null, strange: null, surface: null, blocks: null },
};

test.each<[string, object]>([
  ['of another version', { version: 2 }],
  ['with a grade that is none', { tally: { firm: 1, good: 2 } }],
  ['with a range before the image', { inDoubt: { ranges: [{ offset: -1, length: 2 }] } }],
  [
    'with a problem of no known kind',
    { problems: [{ kind: 'x', said: { code: 'a' }, offset: 0 }] },
  ],
  ['with a digest that is none', { image: { name: 'a', bytes: 1, sha256: '..' } }],
])('a record %s is not believed', (_, other) => {
  expect(CopyRecord.safeParse(COPY).success).toBe(true);
  expect(CopyRecord.safeParse({ ...COPY, ...other }).success).toBe(false);
});

test('an event is a code with parameters, and in words', () => {
  const event = {
    at: '2026-12-01T02:00:00.000Z',
    kind: 'described',
    who: '',
    what: { code: 'a.b' },
  };
  const file = { format: 'frail-spindle-events', version: 1 };
  expect(EventsFile.safeParse({ ...file, events: [{ ...event, told: 'x' }] }).success).toBe(true);
  expect(EventsFile.safeParse({ ...file, events: [event] }).success).toBe(false);
  expect(Elsewhere.parse({ ...event, what: { code: 'a.b', with: { n: [1, 'x'] } } })).toMatchObject(
    {
      what: { with: { n: [1, 'x'] } },
    },
  );
});
