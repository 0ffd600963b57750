/** What may be done with media: what is held leaves by no way, and what leaves is in the ledger. */
import { and, asc, eq, sql } from 'drizzle-orm';
import { dayOf } from '@/core/description/day';
import { startRoute } from '@/server/features/assemblies/start-route';
import { assemblies } from '@/server/features/assemblies/tables';
import { fairCopies, files, volumes } from '@/server/features/copies/tables';
import { dublinCoreRecord } from '@/server/features/descriptions/dublin-core-record';
import { mediumRecord, recordAsText } from '@/server/features/descriptions/medium-record';
import { recordPage } from '@/server/features/descriptions/record-pages';
import { startExtract } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { searchHoldings } from '@/server/features/holdings/holdings';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { mergeMedia } from '@/server/features/holdings/merging';
import { takeIn } from '@/server/features/intake/intake';
import { ledger } from '@/server/features/ledger/tables';
import { makeCard } from '@/server/features/memory-cards/memory-cards';
import { mediumByCode, registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { changeSet } from '@/server/features/media/sets';
import { operatorNamed } from '@/server/features/operators/operators';
import { holdsOf, refuseHeld } from '@/server/features/rights/holds';
import { RightsChange } from '@/server/features/rights/new-rights';
import { permit } from '@/server/features/rights/permits';
import { changeRights } from '@/server/features/rights/rights';
import { permits } from '@/server/features/rights/tables';
import { startWriteback } from '@/server/features/writebacks/writebacks';
import { until } from '../../support/application';
import { handlerOf } from '../../support/server/route-handlers';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite({ worker: true });
let who: number;
beforeAll(async () => {
  who = await operatorNamed(db(), 'Tam Okoro');
});
const db = () => suite.connection.db;
const DAY_MS = 86_400_000;
const TODAY = dayOf(new Date());
const TOMORROW = dayOf(new Date(Date.now() + 2 * DAY_MS));
const NOTHING = { statement: '', words: '', restriction: null, isPersonal: false };
type Kind = 'media' | 'sets' | 'lots';

const setRights = (kind: Kind, name: string, change: object) =>
  changeRights(db(), who, kind, name, RightsChange.parse({ ...NOTHING, ...change }));
const restrict = (kind: Kind, name: string, opensOn = TOMORROW) =>
  setRights(kind, name, { restriction: { reason: 'as the giver asked', opensOn } });

async function held(code: string, more: object = {}) {
  await registerMedium(
    db(),
    who,
    NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }),
  );
  await takeIn(db(), who, { name: 'x.img', code }, loadVector('volumes/fat12-720k.img'));
  const { medium, copy } = await mediumDetail(db(), code);
  return { mediumId: medium.id, copyId: copy!.id };
}

async function answerTo(route: string, params: object, query = '', headers: object = {}) {
  const request = new Request(`http://127.0.0.1/${route}?${query}`, {
    headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro', ...headers },
  });
  return handlerOf(route)!(request, { params: Promise.resolve(params) });
}

const statusOf = async (...asked: Parameters<typeof answerTo>) => {
  const answer = await answerTo(...asked);
  await answer.arrayBuffer();
  return answer.status;
};

const handedOut = async (mediumId: number) =>
  (
    await db()
      .select({ what: ledger.what, operatorId: ledger.operatorId })
      .from(ledger)
      .where(and(eq(ledger.mediumId, mediumId), eq(ledger.kind, 'handed-out')))
      .orderBy(asc(ledger.id))
  ).map(({ what, operatorId }) => ({ operatorId, ...what.with }));

async function fileOf(copyId: number): Promise<string> {
  const [row] = await db()
    .select({ id: files.id })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(sql`${volumes.fairCopyId} = ${copyId} and ${files.kind} = 'file' and ${files.bytes} > 0`)
    .limit(1);
  return String(row!.id);
}

async function extractOf(copyId: number): Promise<string> {
  const { id } = await startExtract(db(), who, { copies: [copyId], what: 'files' });
  await until('the ZIP', async () => {
    const [row] = await db().select().from(extracts).where(eq(extracts.id, id));
    return row!.state === 'done';
  });
  return String(id);
}

const REFUSED = { status: 403, code: 'rights.isHeld' };

test('what is restricted leaves by no way until its day, and opens on it by itself', async () => {
  const { mediumId, copyId } = await held('RGA-1');
  const id = String(copyId);
  const file = await fileOf(copyId);
  const extract = await extractOf(copyId);
  const leaving: Parameters<typeof answerTo>[] = [
    ...['image', 'zip'].map((part): Parameters<typeof answerTo> => [
      ...(['api/copies/[id]/[part]', { id, part }] as const),
    ]),
    ['api/copies/[id]/[part]', { id, part: 'zip' }, `files=${file}`],
    ['api/copies/[id]/stretch', { id }, 'from=0&length=900'],
    ['api/files/[id]', { id: file }],
    ['api/files/[id]', { id: file }, 'listen'],
    ['api/extracts/[id]', { id: extract }],
  ];
  await restrict('media', 'RGA-1');
  for (const asked of leaving) expect([asked, await statusOf(...asked)]).toEqual([asked, 403]);
  expect(await handedOut(mediumId)).toEqual([]);
  // Who works here still looks at it.
  expect(await statusOf('api/files/[id]', { id: file }, 'preview')).toBe(200);
  expect(await statusOf('api/docket/[code]', { code: 'RGA-1' })).toBe(200);
  const [row] = (await searchHoldings(db(), { q: 'RGA-1' })).copies;
  expect(row!.isHeld).toBe(true);
  await restrict('media', 'RGA-1', TODAY);
  for (const asked of leaving) expect([asked, await statusOf(...asked)]).toEqual([asked, 200]);
  expect((await mediumDetail(db(), 'RGA-1')).holds).toEqual([]);
});

test('nothing that takes bytes out is begun of what is held', async () => {
  const { copyId } = await held('RGB-1');
  await setRights('media', 'RGB-1', { isPersonal: true });
  await expect(startExtract(db(), who, { copies: [copyId], what: 'files' })).rejects.toMatchObject(
    REFUSED,
  );
  await expect(startRoute(db(), who, { copyId, kind: 'fat-1440' })).rejects.toMatchObject(REFUSED);
  await expect(
    startWriteback(db(), who, { fairCopyId: copyId, stationId: 1 }),
  ).rejects.toMatchObject(REFUSED);
  const card = { title: 'card', profile: 'short', copies: [copyId] };
  await expect(makeCard(db(), who, card)).rejects.toMatchObject(REFUSED);
});

test('what a lot or a set restricts is held in all its media, whatever they are called then', async () => {
  const one = await held('RGC-1', { lot: 'rights c' });
  const other = await held('RGC-2', { setName: 'Rights c', setNumber: 1 });
  await restrict('lots', 'rights c');
  await restrict('sets', 'Rights c');
  await changeSet(db(), who, 'Rights c', { name: 'Rights, c', members: null });
  const holds = await holdsOf(db(), [other.mediumId, one.mediumId]);
  expect(holds.map(({ code, from, name }) => [code, from, name])).toEqual([
    ['RGC-1', 'lot', 'rights c'],
    ['RGC-2', 'set', 'Rights, c'],
  ]);
  await setRights('lots', 'rights c', {});
  expect(await holdsOf(db(), [one.mediumId])).toEqual([]);
});

test('an image that was made from what is held is held as well', async () => {
  const [base, made, again] = [await held('RGD-1'), await held('RGD-2'), await held('RGD-3')];
  await db()
    .insert(assemblies)
    .values([
      { title: 'made', baseId: base.copyId, copyId: made.copyId, startedBy: who },
      { title: 'again', baseId: made.copyId, copyId: again.copyId, startedBy: who },
      // Made of each other, as nothing ought to be: it ends all the same.
      { title: 'circle', baseId: again.copyId, copyId: base.copyId, startedBy: who },
    ]);
  await setRights('media', 'RGD-1', { isPersonal: true });
  expect(await holdsOf(db(), [again.mediumId])).toEqual([
    {
      ...{ mediumId: again.mediumId, code: 'RGD-3', from: 'source', name: 'RGD-1' },
      ...{ reason: '', opensOn: '', isPersonal: true },
    },
  ]);
});

test('an image that files of what is held were put on is held as well, unless they were taken off', async () => {
  const [from, made, without] = [await held('RGJ-1'), await held('RGJ-2'), await held('RGJ-3')];
  const edit = {
    ...{ kind: 'put' as const, path: 'A', bytes: 1, from: 'RGJ-1' },
    source: `file:${await fileOf(from.copyId)}`,
  };
  const wave = { ...edit, source: 'blob:5c7ff2b6-0000-0000-0000-000000000000' };
  await db()
    .insert(assemblies)
    .values([
      {
        title: 'made',
        kind: 'x',
        copyId: made.copyId,
        edits: [wave, edit],
        done: 2,
        startedBy: who,
      },
      { title: 'off', kind: 'x', copyId: without.copyId, edits: [edit], done: 0, startedBy: who },
    ]);
  await restrict('media', 'RGJ-1');
  const holds = await holdsOf(db(), [made.mediumId, without.mediumId]);
  expect(holds.map(({ code, from: whence, name }) => [code, whence, name])).toEqual([
    ['RGJ-2', 'source', 'RGJ-1'],
  ]);
});

test('who says to whom and why may hand it out, alone, and not for ever', async () => {
  const { mediumId, copyId } = await held('RGE-1');
  const image = ['api/copies/[id]/[part]', { id: String(copyId), part: 'image' }] as const;
  await restrict('media', 'RGE-1');
  await permit(db(), who, 'RGE-1', { recipient: 'R. Heron', reason: 'the giver agreed' });
  const other = await operatorNamed(db(), 'B. Dipper');
  await expect(refuseHeld(db(), [mediumId], other)).rejects.toMatchObject(REFUSED);
  const cookie = 'spindle-operator=B.%20Dipper';
  expect(await statusOf(...image, '', { cookie })).toBe(403);
  expect(await statusOf(...image)).toBe(200);
  expect(await handedOut(mediumId)).toMatchObject([{ operatorId: who, recipient: 'R. Heron' }]);
  await db()
    .update(permits)
    .set({ endsAt: new Date(Date.now() - 1000) })
    .where(eq(permits.mediumId, mediumId));
  expect(await statusOf(...image)).toBe(403);
  const [told] = (await mediumDetail(db(), 'RGE-1')).history.filter(
    ({ kind }) => kind === 'permitted',
  );
  expect(told!.what).toContain('R. Heron');
});

test('what leaves is in the ledger once: who took it, for whom, and its digest', async () => {
  const { mediumId, copyId } = await held('RGF-1');
  const params = { id: String(copyId), part: 'image' };
  const cookie = 'spindle-operator=Tam%20Okoro; spindle-recipient=L.%20Gr%C3%A8be';
  for (const range of ['bytes=0-99', 'bytes=100-'])
    expect(await statusOf('api/copies/[id]/[part]', params, '', { cookie, range })).toBe(206);
  const [copy] = await db().select().from(fairCopies).where(eq(fairCopies.id, copyId));
  expect(await handedOut(mediumId)).toEqual([
    {
      operatorId: who,
      name: 'RGF-1.img',
      recipient: 'L. Grèbe',
      bytes: copy!.imageBytes,
      sha256: copy!.imageSha256,
    },
  ]);
  const file = await fileOf(copyId);
  // Also where they come at the same time.
  const both = [0, 1].map(() => statusOf('api/files/[id]', { id: file }));
  expect(await Promise.all(both)).toEqual([200, 200]);
  expect(await handedOut(mediumId)).toHaveLength(2);
  // Nobody at work takes nothing out.
  expect(await statusOf('api/copies/[id]/[part]', params, '', { cookie: '' })).toBe(401);
});

test('to ask how long something is hands nothing out', async () => {
  const { mediumId, copyId } = await held('RGK-1');
  const request = new Request('http://127.0.0.1/api/copies', {
    method: 'HEAD',
    headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro' },
  });
  const params = Promise.resolve({ id: String(copyId), part: 'image' });
  const answer = await handlerOf('api/copies/[id]/[part]')!(request, { params });
  expect([answer.status, answer.body]).toEqual([200, null]);
  expect(Number(answer.headers.get('content-length'))).toBeGreaterThan(0);
  expect(await handedOut(mediumId)).toEqual([]);
});

test('whoever is at work next takes out for nobody', async () => {
  const request = new Request('http://127.0.0.1/api/operators', {
    ...{ method: 'POST', body: JSON.stringify({ name: 'B. Dipper' }) },
    headers: { host: '127.0.0.1', cookie: 'spindle-operator=Tam%20Okoro; spindle-recipient=R' },
  });
  const params = Promise.resolve({});
  const answer = await handlerOf('api/operators', 'POST')!(request, { params });
  const set = answer.headers
    .getSetCookie()
    .find((cookie) => cookie.startsWith('spindle-recipient'));
  expect(set).toMatch(/^spindle-recipient=; .*Max-Age=0/);
});

test('a restriction of a lot that has opened holds nothing, and is told as open', async () => {
  await held('RGL-1', { lot: 'rights l' });
  await restrict('lots', 'rights l', TODAY);
  const { rights, stays } = await recordPage(db(), 'lots', 'rights l');
  expect([rights.own!.restriction!.opensOn, rights.holds, stays]).toEqual([TODAY, [], 0]);
  await restrict('lots', 'rights l');
  const closed = await recordPage(db(), 'lots', 'rights l');
  expect([closed.rights.holds, closed.stays]).toMatchObject([[{ opensOn: TOMORROW }], 1]);
});

test('two that are found to be one are held as either was, also by the lot that one leaves', async () => {
  await held('RGG-1', { lot: 'rights g' });
  const { mediumId } = await held('RGG-2', { lot: 'rights gg' });
  await restrict('lots', 'rights g');
  await setRights('media', 'RGG-1', { words: 'of the family' });
  await mergeMedia(db(), who, 'RGG-1', { into: 'RGG-2', reason: 'one' });
  expect(await holdsOf(db(), [mediumId])).toMatchObject([{ code: 'RGG-2', from: 'medium' }]);
  const { rights } = await mediumDetail(db(), 'RGG-2');
  expect(rights.own).toMatchObject({ words: 'of the family', restriction: { opensOn: TOMORROW } });
});

test('what changes is told with what it was, and what can’t be is refused', async () => {
  await held('RGH-1');
  await restrict('media', 'RGH-1', '2031-02-28');
  await setRights('media', 'RGH-1', { statement: 'http://rightsstatements.org/vocab/InC/1.0/' });
  await setRights('media', 'RGH-1', { statement: 'http://rightsstatements.org/vocab/InC/1.0/' });
  const told = (await mediumDetail(db(), 'RGH-1')).history.filter(
    ({ kind }) => kind === 'described',
  );
  expect(told).toHaveLength(2);
  expect(told[0]!.what).toContain('not restricted (was restricted until it opens on 2031-02-28');
  const wrong = [
    { statement: 'InC' },
    { statement: 'javascript:alert(1)' },
    { restriction: { reason: 'x', opensOn: '2031-02-29' } },
    { restriction: { reason: ' ', opensOn: '' } },
    { isPersonal: 'yes' },
  ];
  for (const each of wrong)
    expect([each, RightsChange.safeParse({ ...NOTHING, ...each }).success]).toEqual([each, false]);
  await expect(setRights('lots', 'no such lot', {})).rejects.toMatchObject({ status: 404 });
});

test('the statement of the nearest goes with what leaves', async () => {
  await held('RGI-1', { lot: 'rights i' });
  const statement = 'https://creativecommons.org/licenses/by/4.0/';
  await setRights('lots', 'rights i', { statement, words: 'name the <archive>' });
  const record = await mediumRecord(db(), await mediumByCode(db(), 'RGI-1'));
  expect(record.rights).toEqual({ statement, words: 'name the <archive>' });
  expect(recordAsText(record)).toContain(`dc:rights: ${statement}\ndc:rights: name the <archive>`);
  for (const [kind, name] of [
    ['media', 'RGI-1'],
    ['lots', 'rights i'],
  ] as const) {
    const xml = await (await dublinCoreRecord(db(), kind, name)).text();
    expect(xml).toContain(`<dc:rights>${statement}</dc:rights>`);
    expect(xml).toContain('<dc:rights>name the &lt;archive&gt;</dc:rights>');
  }
});
