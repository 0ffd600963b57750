/** The register: many at once or none, condition, lots and what they decide. */
import { eq } from 'drizzle-orm';
import { ledger } from '@/server/features/ledger/tables';
import { media } from '@/server/features/media/tables';
import { sittings } from '@/server/features/sittings/tables';
import {
  changeLot,
  describeMedium,
  listArrivals,
  listLots,
  registerMany,
} from '@/server/features/media/media';
import { LotChange, MediumChange, NewMedium } from '@/server/features/media/new-medium';
import { askSitting, startSitting } from '@/server/features/sittings/sittings';
import { placeMedium, removeMedium } from '@/server/features/stations/stations';
import { serverSuite } from '../support/server-suite';

jest.setTimeout(120_000);

const suite = serverSuite();
const who = 1;

const made = (code: string, more: object = {}) =>
  NewMedium.parse({
    code,
    form: '3.5',
    title: `Disk ${code}`,
    lot: 'lot 7',
    lender: 'the club',
    ...more,
  });

test('many are registered together, or none where one is there already', async () => {
  await expect(
    registerMany(suite.connection.db, who, [made('ABC-1'), made('SKP-0117'), made('ABC-1')]),
  ).rejects.toThrow('Nothing was registered: SKP-0117 is registered already; ABC-1 stands twice.');
  expect(await suite.connection.db.select().from(media).where(eq(media.code, 'ABC-1'))).toEqual([]);
  expect(
    await registerMany(
      suite.connection.db,
      who,
      Array.from({ length: 200 }, (_, i) => made(`ABC-${i + 1}`)),
    ),
  ).toEqual({ registered: 200 });
  expect((await listLots(suite.connection.db)).find(({ name }) => name === 'lot 7')).toMatchObject({
    lender: 'the club',
    revolutions: 2,
    tries: 6,
  });
});

test("two people who take the same code: one is told, and none of that one's media is half registered", async () => {
  const both = await Promise.allSettled([
    registerMany(suite.connection.db, who, [made('RAC-1'), made('RAC-2')]),
    registerMany(suite.connection.db, who, [made('RAC-2'), made('RAC-3')]),
  ]);
  const refused = both.filter((each): each is PromiseRejectedResult => each.status === 'rejected');
  expect(refused.map(({ reason }) => (reason as Error).message)).toEqual([
    expect.stringContaining('RAC-2 is registered already'),
  ]);
  const there = (await suite.connection.db.select().from(media))
    .map(({ code }) => code)
    .filter((code) => code.startsWith('RAC-'))
    .sort();
  expect([
    ['RAC-1', 'RAC-2'],
    ['RAC-2', 'RAC-3'],
  ]).toContainEqual(there);
});

test('what is said of a medium changes nothing else of it, and is in the ledger', async () => {
  await describeMedium(
    suite.connection.db,
    who,
    'SKP-0117',
    MediumChange.parse({ marks: { shedding: false } }),
  );
  await Promise.all(
    (['mould', 'scratches'] as const).map((mark) =>
      describeMedium(
        suite.connection.db,
        who,
        'SKP-0117',
        MediumChange.parse({ marks: { [mark]: true } }),
      ),
    ),
  );
  expect(() => MediumChange.parse({ marks: { rust: true } })).toThrow('rust');
  await describeMedium(
    suite.connection.db,
    who,
    'SKP-0117',
    MediumChange.parse({ treatFirst: true }),
  );
  const row = (await listArrivals(suite.connection.db)).find(({ code }) => code === 'SKP-0117');
  expect(row).toMatchObject({
    marks: ['mould', 'scratches'],
    treatFirst: true,
    title: 'Tide tables, north mole, 1984–86',
    lot: 'lot 4',
  });
  const lines = (
    await suite.connection.db
      .select()
      .from(ledger)
      .where(eq(ledger.kind, 'described'))
      .orderBy(ledger.id)
  ).map(({ what }) => what);
  expect([lines[0], ...lines.slice(2)]).toEqual([
    'SKP-0117 described: no marks.',
    'SKP-0117 described: mould, scratches.',
    'SKP-0117 described: not to be read before treatment.',
  ]);
});

test('what is to be treated first goes in no drive', async () => {
  await expect(placeMedium(suite.connection.db, who, 1, 'SKP-0117')).rejects.toThrow(
    'not to be read before treatment',
  );
  await describeMedium(suite.connection.db, who, 'SKP-0117', { treatFirst: false });
  await placeMedium(suite.connection.db, who, 1, 'SKP-0117');
  await describeMedium(suite.connection.db, who, 'SKP-0117', { treatFirst: true });
  await expect(startSitting(suite.connection.db, who, 1)).rejects.toThrow(
    'not to be read before treatment',
  );
  await removeMedium(suite.connection.db, who, 1);
});

test('the lot decides how its media are read', async () => {
  await changeLot(
    suite.connection.db,
    who,
    'lot 4',
    LotChange.parse({
      lender: 'keeper, north light',
      cameIn: '2026-05-12',
      handBackBy: '2026-12-30',
      revolutions: 4,
      tries: 2,
    }),
  );
  await expect(
    changeLot(
      suite.connection.db,
      who,
      'lot 99',
      LotChange.parse({ lender: '', cameIn: '', handBackBy: '', revolutions: 1, tries: 1 }),
    ),
  ).rejects.toThrow('no lot lot 99');
  await placeMedium(suite.connection.db, who, 1, 'SKP-0124');
  const id = await startSitting(suite.connection.db, who, 1);
  const [sitting] = await suite.connection.db.select().from(sittings).where(eq(sittings.id, id));
  expect(sitting!.policy).toMatchObject({ range: null, revolutions: 4, tries: 2 });
  await askSitting(suite.connection.db, who, id, 'stop');
});
