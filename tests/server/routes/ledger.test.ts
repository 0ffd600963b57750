/** The ledger asked and saved: every entry that is meant, once, and none that is not. */
import { asc, eq, inArray, lte } from 'drizzle-orm';
import { mergeMedia } from '@/server/features/holdings/merging';
import { indexOlderEntries } from '@/server/features/ledger/ledger-words';
import { ExportQuestion, ledgerExport } from '@/server/features/ledger/ledger-export';
import { listLedger } from '@/server/features/ledger/entries';
import { noteMany } from '@/server/features/ledger/ledger';
import { LedgerQuestion } from '@/server/features/ledger/questions';
import { ledger, ledgerWords } from '@/server/features/ledger/tables';
import { correctMedium } from '@/server/features/media/corrections';
import { registerMany } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { operatorNamed } from '@/server/features/operators/operators';
import { withdraw } from '@/server/features/media/withdrawals';
import { asWritten } from '@/core/said';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite();
const db = () => suite.connection.db;
let who: number;
beforeAll(async () => {
  who = await operatorNamed(db(), 'Orla Venn');
});

const register = (codes: string[], more: object = {}) =>
  registerMany(
    db(),
    who,
    codes.map((code) => NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more })),
  );
const found = async (asked: object) =>
  (await listLedger(db(), LedgerQuestion.parse(asked))).entries.map(({ code }) => code);
const saved = async (as: string, asked: object = {}): Promise<string> =>
  (await ledgerExport(db(), ExportQuestion.parse({ ...asked, as }))).text();

test('entries are found by what they say, by the code and the name beside them', async () => {
  await register(['LGA-1', 'LGA-2'], { title: 'Soundings off the bar' });
  expect(await found({ q: 'soundings LGA-1' })).toEqual(['LGA-1']);
  expect(await found({ q: 'SOUNDINGS venn' })).toEqual(['LGA-2', 'LGA-1']);
  expect(await found({ q: 'soundings %' })).toEqual([]);
  expect(await found({ q: 'lga registered' })).toEqual(['LGA-2', 'LGA-1']);
});

test('of a medium: by any code that it had, with what was merged into it', async () => {
  await register(['LGB-1', 'LGB-2']);
  await correctMedium(db(), who, 'LGB-1', { code: 'LGB-7' });
  await mergeMedia(db(), who, 'LGB-7', { into: 'LGB-2', reason: 'one disk' });
  const all = await found({ medium: 'LGB-2' });
  expect(all.filter((code) => code === 'LGB-7').length).toBeGreaterThanOrEqual(2);
  for (const code of ['LGB-1', 'LGB-7']) expect(await found({ medium: code })).toEqual(all);
  expect(await found({ medium: 'LGB-9' })).toEqual([]);
});

test('by kind, by who, and by the day on which it was', async () => {
  await register(['LGC-1']);
  await withdraw(db(), who, 'LGC-1', 'by mistake');
  const other = await operatorNamed(db(), 'Piet Lorne');
  await noteMany(db(), [
    { operatorId: other, kind: 'cleaned', what: asWritten('lgc-note of Piet') },
    { operatorId: null, kind: 'fixity', what: asWritten('lgc-note of nobody') },
  ]);
  expect(await found({ medium: 'LGC-1', kind: 'withdrawn' })).toEqual(['LGC-1']);
  const said = async (asked: object) =>
    (await listLedger(db(), LedgerQuestion.parse({ q: 'lgc-note', ...asked }))).entries.map(
      ({ what }) => what,
    );
  expect(await said({ who: 'Piet Lorne' })).toEqual(['lgc-note of Piet']);
  expect(await said({ who: '-' })).toEqual(['lgc-note of nobody']);
  const day = (await listLedger(db(), { q: 'lgc-note piet' })).entries[0]!.at;
  const own = [day.getFullYear(), day.getMonth() + 1, day.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-');
  expect(await said({ who: 'Piet Lorne', from: own, to: own })).toEqual(['lgc-note of Piet']);
  expect(await said({ who: 'Piet Lorne', to: '2001-01-01' })).toEqual([]);
  expect(await said({ who: 'Piet Lorne', from: '2999-01-01' })).toEqual([]);
});

test('page by page all of it comes, each entry once', async () => {
  const entry = { operatorId: who, kind: 'cleaned' } as const;
  await noteMany(
    db(),
    Array.from({ length: 431 }, (_, i) => ({ ...entry, what: asWritten(`lgd-${i}.`) })),
  );
  const pages: string[][] = [];
  for (let before: number | null | undefined; before !== null;) {
    const page = await listLedger(db(), LedgerQuestion.parse({ q: 'lgd-', before }));
    expect([page.count, page.isCounted]).toEqual([431, true]);
    pages.push(page.entries.map(({ what }) => what));
    before = page.olderThan;
  }
  expect(pages.map(({ length }) => length)).toEqual([200, 200, 31]);
  expect(pages.flat()).toEqual(Array.from({ length: 431 }, (_, i) => `lgd-${430 - i}.`));
});

test('entries from before there were words are found once they were gone through', async () => {
  await register(['LGE-1', 'LGE-2']);
  const [newest] = await db()
    .select({ id: ledger.id })
    .from(ledger)
    .where(eq(ledger.kind, 'registered'))
    .orderBy(asc(ledger.id));
  const through = newest!.id + 2;
  const gone = await db().delete(ledgerWords).where(lte(ledgerWords.ledgerId, through)).returning();
  expect(gone.length).toBeGreaterThan(0);
  expect(await indexOlderEntries(db())).toBe(gone.length);
  const again = await db()
    .select()
    .from(ledgerWords)
    .where(
      inArray(
        ledgerWords.ledgerId,
        gone.map(({ ledgerId }) => ledgerId),
      ),
    );
  expect(new Set(again.map(({ words }) => words))).toEqual(new Set(gone.map(({ words }) => words)));
  expect(await indexOlderEntries(db())).toBe(0);
});

test('a table has what is meant, the oldest first, the event as it is kept beside its words', async () => {
  await register(['LGF-1', 'LGF-2', 'LGG-1']);
  const rows = (await saved('csv', { q: 'LGF-' })).trimEnd().split('\r\n');
  expect(rows[0]).toBe('number,at,who,kind,medium,station,sitting,event,what');
  expect(rows.slice(1).map((row) => row.split(',').slice(2, 8))).toEqual([
    ['Orla Venn', 'registered', 'LGF-1', '', '', 'media.registered'],
    ['Orla Venn', 'registered', 'LGF-2', '', '', 'media.registered'],
  ]);
  const lines = (await saved('json', { q: 'LGF-' })).trimEnd().split('\n');
  expect(lines.map((line) => JSON.parse(line) as object)).toMatchObject([
    { medium: 'LGF-1', event: { code: 'media.registered', with: { code: 'LGF-1' } } },
    { medium: 'LGF-2', event: { code: 'media.registered' } },
  ]);
});

test('PREMIS names every agent and medium that its events name', async () => {
  await register(['LGH-1'], { title: 'Fog <&> “bells”' });
  await noteMany(db(), [
    { operatorId: who, kind: 'cleaned', stationId: 1, what: asWritten('lgh') },
  ]);
  const xml = await saved('premis');
  const values = (name: string) =>
    [...xml.matchAll(new RegExp(`<${name}Value>([^<]*)</${name}Value>`, 'g'))].map(([, id]) => id);
  const events = values('eventIdentifier');
  const all = await db().select({ id: ledger.id }).from(ledger).orderBy(asc(ledger.id));
  expect(events).toEqual(all.map(({ id }) => `ledger-${id}`));
  const agents = new Set(values('agentIdentifier'));
  const objects = new Set(values('objectIdentifier'));
  expect(values('linkingAgentIdentifier').filter((id) => !agents.has(id))).toEqual([]);
  expect(values('linkingObjectIdentifier').filter((id) => !objects.has(id))).toEqual([]);
  expect(values('linkingObjectIdentifier')).toHaveLength(events.length);
  expect(agents).toContain('station-1');
  expect(xml).toContain('Fog &lt;&amp;&gt; “bells”');
});

interface Prov {
  prefix: Record<string, string>;
  agent: Record<string, object>;
  entity: Record<string, object>;
  activity: Record<string, { 'prov:label': string }>;
  wasAssociatedWith: Record<string, { 'prov:activity': string; 'prov:agent': string }>;
  used: Record<string, { 'prov:activity': string; 'prov:entity': string }>;
}

test('PROV-JSON is one document whose relations lead to what it has', async () => {
  await register(['LGI-1']);
  const prov = JSON.parse(await saved('prov', { q: 'LGI-1' })) as Prov;
  const activities = Object.keys(prov.activity);
  expect(activities).toHaveLength(1);
  expect(prov.activity[activities[0]!]!['prov:label']).toContain('LGI-1');
  expect(Object.values(prov.wasAssociatedWith)).toEqual([
    { 'prov:activity': activities[0], 'prov:agent': `house:operator-${who}` },
  ]);
  expect(Object.values(prov.used)).toEqual([
    { 'prov:activity': activities[0], 'prov:entity': Object.keys(prov.entity)[0] },
  ]);
  expect(prov.agent).toHaveProperty([`house:operator-${who}`]);
  expect(prov.prefix.house).toMatch(/^urn:uuid:[0-9a-f-]{36}#$/);
  const whole = JSON.parse(await saved('prov')) as Prov;
  const lacks = (ids: string[], there: object) => ids.filter((id) => !Object.hasOwn(there, id));
  const by = Object.values(whole.wasAssociatedWith);
  expect(
    lacks(
      by.map((each) => each['prov:agent']),
      whole.agent,
    ),
  ).toEqual([]);
  expect(
    lacks(
      by.map((each) => each['prov:activity']),
      whole.activity,
    ),
  ).toEqual([]);
  const used = Object.values(whole.used);
  expect(
    lacks(
      used.map((each) => each['prov:entity']),
      whole.entity,
    ),
  ).toEqual([]);
});

test('what is written while it is saved is not of it', async () => {
  const before = JSON.parse(await saved('prov')) as Prov;
  const answer = await ledgerExport(db(), ExportQuestion.parse({ as: 'prov' }));
  await noteMany(db(), [{ operatorId: who, kind: 'cleaned', what: asWritten('meanwhile') }]);
  const prov = JSON.parse(await answer.text()) as Prov;
  expect(Object.keys(prov.activity)).toEqual(Object.keys(before.activity));
});

test.each([{ kind: 'none' }, { from: '2026-02-30' }, { before: '0' }, { as: 'rtf' }])(
  'what can not be asked is refused: %j',
  (odd) => {
    expect(ExportQuestion.safeParse({}).success).toBe(true);
    expect(ExportQuestion.safeParse(odd).success).toBe(false);
  },
);
