/** The register: many at once or none, condition, lots and what they decide. */
import { listLedger } from '@/server/features/ledger/entries';
import { note } from '@/server/features/ledger/ledger';
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { riskOf } from '@/core/condition';
import { listToComplete } from '@/server/features/media/to-complete';
import { listArrivals } from '@/server/features/media/arrivals';
import { eq } from 'drizzle-orm';
import { ledger } from '@/server/features/ledger/tables';
import { lots, media } from '@/server/features/media/tables';
import { sittings } from '@/server/features/sittings/tables';
import { correctMedium } from '@/server/features/media/corrections';
import { changeLot } from '@/server/features/media/lots';
import { registerMany, registerMedium } from '@/server/features/media/media';
import { LotChange, MediumCorrection, NewMedium } from '@/server/features/media/new-medium';
import { askSitting, startSitting } from '@/server/features/sittings/sittings';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { serverSuite } from '../support/server-suite';

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
  expect(
    (await suite.connection.db.select().from(lots)).find(({ name }) => name === 'lot 7'),
  ).toMatchObject({
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
  await correctMedium(
    suite.connection.db,
    who,
    'SKP-0117',
    MediumCorrection.parse({ marks: { shedding: false } }),
  );
  await Promise.all(
    (['mould', 'scratches'] as const).map((mark) =>
      correctMedium(
        suite.connection.db,
        who,
        'SKP-0117',
        MediumCorrection.parse({ marks: { [mark]: true } }),
      ),
    ),
  );
  expect(() => MediumCorrection.parse({ marks: { rust: true } })).toThrow('rust');
  await correctMedium(
    suite.connection.db,
    who,
    'SKP-0117',
    MediumCorrection.parse({ treatFirst: true }),
  );
  const row = (await listArrivals(suite.connection.db, { q: 'skp-0117' })).media.find(
    ({ code }) => code === 'SKP-0117',
  );
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
  )
    .map(({ what }) => tell(what))
    .filter((line) => line.startsWith('SKP-0117'));
  expect(lines).toHaveLength(4);
  const [first, second, third, last] = lines;
  expect(first).toBe('SKP-0117 corrected: marks nothing (was shedding).');
  // Two at once: the one that came later says what the other made of it.
  expect(
    [
      ['mould', 'mould, scratches'],
      ['scratches', 'mould, scratches'],
    ].map(([one, both]) => [
      `SKP-0117 corrected: marks ${one} (was nothing).`,
      `SKP-0117 corrected: marks ${both} (was ${one}).`,
    ]),
  ).toContainEqual([second, third]);
  expect(last).toBe('SKP-0117 corrected: to be treated first yes (was no).');
});

test('what is to be treated first goes in no drive', async () => {
  const describe = (treatFirst: boolean) =>
    correctMedium(suite.connection.db, who, 'SKP-0104', MediumCorrection.parse({ treatFirst }));
  await describe(true);
  await expect(placeMedium(suite.connection.db, who, 2, 'SKP-0104')).rejects.toThrow(
    'not to be read before treatment',
  );
  await describe(false);
  await placeMedium(suite.connection.db, who, 2, 'SKP-0104');
  await describe(true);
  await expect(startSitting(suite.connection.db, who, 2)).rejects.toThrow(
    'not to be read before treatment',
  );
  await removeMedium(suite.connection.db, who, 2);
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
  await removeMedium(suite.connection.db, who, 1).catch(() => undefined);
});

describe('what waits, narrowed and ordered in SQL', () => {
  const list = (asked: Parameters<typeof listArrivals>[1]) =>
    listArrivals(suite.connection.db, asked);
  const make = (code: string, input: object) =>
    registerMedium(
      suite.connection.db,
      who,
      NewMedium.parse({ code, form: '8', title: `waits, ${code}`, ...input }),
    );

  test('by risk as the core reckons it, by words of any field, by what is lacking', async () => {
    await make('QRY-0001', { marks: ['scratches'], lender: 'A', labelText: 'x' });
    await make('QRY-0002', { marks: ['mould', 'warped'], lender: 'B' });
    await make('QRY-0003', { marks: ['dye-faded', 'scratches'], lender: 'C', labelText: '50%' });
    await make('QRY-0004', { treatFirst: true, lender: 'D', labelText: 'y', condition: 'good' });
    await make('QRY-0005', { isBlank: true });
    const { media: rows, total } = await list({ q: 'qry', order: 'risk' });
    expect(total).toBe(5);
    expect(rows.map(({ code }) => code)).toEqual([
      'QRY-0002',
      'QRY-0004',
      'QRY-0003',
      'QRY-0001',
      'QRY-0005',
    ]);
    const risks = rows.map(({ marks, treatFirst }) => riskOf(marks, treatFirst));
    expect(risks).toEqual([5, 5, 4, 2, 1]);
    const codes = async (asked: Parameters<typeof list>[0]) =>
      (await list(asked)).media.map(({ code }) => code);
    expect(await codes({ q: 'qry dye faded' })).toEqual(['QRY-0003']);
    // Marks of a pattern are letters like any other.
    expect(await codes({ q: 'qry 50%' })).toEqual(['QRY-0003']);
    expect(await codes({ q: 'qry', form: '3.5' })).toEqual([]);
    expect(await codes({ q: 'qry', incomplete: '1' })).toEqual(['QRY-0002']);
    expect(await codes({ q: 'qry', incomplete: '1', keep: 'QRY-0001' })).toEqual([
      'QRY-0001',
      'QRY-0002',
    ]);
    expect(await codes({ q: 'qry', stackOf: '5' })).toEqual(['QRY-0001', 'QRY-0002', 'QRY-0003']);
  });

  test('so many at once, and more when asked', async () => {
    const inputs = Array.from({ length: 250 }, (_, i) =>
      NewMedium.parse({ code: `BULK-${1000 + i}`, form: '8', title: 'one of many' }),
    );
    await registerMany(suite.connection.db, who, inputs);
    const [first, more] = [await list({ q: 'bulk' }), await list({ q: 'bulk', more: '1' })];
    expect([first.media.length, first.total, more.media.length]).toEqual([200, 250, 250]);
    expect(new Set(more.media.map(({ code }) => code)).size).toBe(250);
    expect((await list({})).nextCode).toBe('BULK-1250');
  });
});

test('what is to be completed is told by its kinds, set by set, and page by page', async () => {
  const { db } = suite.connection;
  const before = await listToComplete(db, {});
  await registerMany(
    db,
    who,
    [
      {
        code: 'TBC-0001',
        title: 'Unknown disk',
        lender: 'X',
        labelText: 'y',
        marks: ['scratches'],
      },
      { code: 'TBC-0002', title: 'Known', setName: 'Pair of tests', setNumber: 2 },
      { code: 'TBC-0003', title: 'A blank', isBlank: true },
      { code: 'TBC-0005', title: 'A disc', form: 'optical-disc' },
    ].map((input) => NewMedium.parse({ form: '8', ...input })),
  );
  const after = await listToComplete(db, {});
  expect([after.of - before.of, after.total - before.total]).toEqual([3, 3]);
  expect(after.counts['what it is'] - before.counts['what it is']).toBe(1);
  const rows = (await listToComplete(db, { after: 'TBC-0000' })).media;
  expect(rows.slice(0, 2).map(({ code, toComplete }) => [code, toComplete])).toEqual([
    ['TBC-0001', ['what it is', 'photo', 'side']],
    ['TBC-0002', ['owner', 'label', 'condition', 'photo', 'side']],
  ]);
  // Nobody says of a disc which of its sides is recorded.
  expect(rows[2]).toMatchObject({
    ...{ code: 'TBC-0005', toComplete: ['owner', 'label', 'condition', 'photo'] },
  });
  const sample = (await listToComplete(db, { after: 'SKP-0103' })).media;
  const held = new Map(sample.map(({ code, held: isHeld }) => [code, isHeld]));
  expect([held.get('SKP-0104'), held.get('SKP-0117')]).toEqual([true, false]);
  const named = (await listToComplete(db, { only: 'what it is' })).media.map(({ code }) => code);
  expect(named).toContain('TBC-0001');
  expect(named).not.toContain('TBC-0002');
  expect(after.sets.find(({ name }) => name === 'Pair of tests')).toMatchObject({
    count: 1,
    missing: [1],
  });
  await registerMedium(
    db,
    who,
    NewMedium.parse({
      code: 'TBC-0004',
      form: '8',
      title: 'x',
      setName: 'Pair of tests',
      setNumber: 1,
    }),
  );
  const whole = (await listToComplete(db, {})).sets.map(({ name }) => name);
  expect(whole).not.toContain('Pair of tests');
});

test('what is said of a name that the database can’t hold is told all the same', async () => {
  const { db } = suite.connection;
  await note(db, {
    operatorId: who,
    kind: 'registered',
    what: said('media.registered', { code: 'TBC-0099', title: 'half \ud83d, none \0' }),
  });
  const [{ what } = { what: '' }] = (await listLedger(db)).entries;
  expect(what).toBe('TBC-0099 registered: half \ufffd, none \ufffd.');
});
