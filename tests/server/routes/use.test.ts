/** Media that go out of use and come back, and two that are found to be one. */
import { asc, eq, like, or } from 'drizzle-orm';
import { makeBlank } from '@/core/identify/make-blank';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { fairCopies, settlings } from '@/server/features/copies/tables';
import { describe as describeIt } from '@/server/features/descriptions/descriptions';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { recordPage } from '@/server/features/descriptions/record-pages';
import { keepAlike } from '@/server/features/holdings/keep-alike';
import { mediumDetail } from '@/server/features/holdings/medium-detail';
import { mergeMedia } from '@/server/features/holdings/merging';
import { relate } from '@/server/features/holdings/relations';
import { holdings, likenesses, relations } from '@/server/features/holdings/tables';
import { examineFile, keepFile, takeIn } from '@/server/features/intake/intake';
import { listArrivals } from '@/server/features/media/arrivals';
import {
  correctMedia,
  correctMedium,
  previewCorrections,
} from '@/server/features/media/corrections';
import { FactsQuestion, listFacts } from '@/server/features/media/fact-list';
import { mediumByCode, registerMedium } from '@/server/features/media/media';
import { NewMedium } from '@/server/features/media/new-medium';
import { addPaper, papersOf, removePaper } from '@/server/features/media/papers';
import { listToComplete } from '@/server/features/media/to-complete';
import { reinstate, withdraw } from '@/server/features/media/withdrawals';
import { placeMedium } from '@/server/features/stations/placing';
import { stations } from '@/server/features/stations/tables';
import { takeScan } from '@/server/features/stations/scanned-labels';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { serverSuite } from '../../support/server-suite';
import { loadVector } from '../../support/vectors';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;
const image = makeBlank(BLANK_KINDS.find(({ id }) => id === 'wavesample')!);

const register = (code: string, more: object = {}) =>
  registerMedium(db(), who, NewMedium.parse({ code, form: '3.5', title: `Disk ${code}`, ...more }));
const waiting = async (q: string) =>
  (await listArrivals(db(), { q })).media.map(({ code }) => code);
const held = async (q: string) =>
  (
    await db()
      .select({ code: holdings.code, states: holdings.states })
      .from(holdings)
      .where(like(holdings.code, `${q}-%`))
      .orderBy(asc(holdings.code))
  ).map(({ code, states }) => [code, states]);
const history = async (code: string) => (await mediumDetail(db(), code)).history;

test('what is withdrawn leaves every list of work, keeps its docket, and comes back as it was', async () => {
  const box = { lot: 'use a', setName: 'Use a', setNumber: 1 };
  await register('USA-1', box);
  await register('USA-2', { lot: 'use a' });
  await withdraw(db(), who, 'USA-1', 'registered by mistake');
  expect(await waiting('USA')).toEqual(['USA-2']);
  const facts = await listFacts(db(), FactsQuestion.parse({ q: 'USA' }));
  expect(facts.media.map(({ code }) => code)).toEqual(['USA-2']);
  const { media: lacking } = await listToComplete(db(), { after: 'USA' });
  expect(lacking.map(({ code }) => code)).not.toContain('USA-1');
  expect((await recordPage(db(), 'lots', 'use a')).media.rows.map(({ code }) => code)).toEqual([
    'USA-2',
  ]);
  const { medium, history: told } = await mediumDetail(db(), 'USA-1');
  expect(medium).toMatchObject({ withdrawnReason: 'registered by mistake', ...box });
  expect(told[0]).toMatchObject({ kind: 'withdrawn' });
  await reinstate(db(), who, 'USA-1', 'it was right');
  expect(await waiting('USA')).toEqual(['USA-1', 'USA-2']);
  expect((await mediumByCode(db(), 'USA-1')).withdrawnAt).toBeNull();
});

test('an image of what is withdrawn is not held, and not held twice, until it is reinstated', async () => {
  const own = image.slice();
  own[own.length - 1]! ^= 1;
  for (const code of ['USB-1', 'USB-2']) {
    await register(code);
    await takeIn(db(), who, { name: 'x.img', code }, own);
  }
  expect(await held('USB')).toEqual([
    ['USB-1', ['flat image', 'held twice']],
    ['USB-2', ['flat image', 'held twice']],
  ]);
  await withdraw(db(), who, 'USB-1', 'gone');
  expect(await held('USB')).toEqual([['USB-2', ['flat image']]]);
  await reinstate(db(), who, 'USB-1', 'back');
  expect((await held('USB')).map(([, states]) => states)).toEqual([
    ['flat image', 'held twice'],
    ['flat image', 'held twice'],
  ]);
});

test('what is withdrawn is like nothing, until it is reinstated', async () => {
  const volume = loadVector('volumes/d64-plain.d64');
  const titled = volume.slice();
  // A letter of the volume's name: other bytes, the same files.
  titled[0x16590]! ^= 1;
  for (const [code, bytes] of [
    ['USM-1', volume],
    ['USM-2', titled],
  ] as const) {
    await register(code, { form: '5.25' });
    await takeIn(db(), who, { name: 'x.d64', code }, bytes);
  }
  const { id, code } = await mediumByCode(db(), 'USM-1');
  const likenessesOf = async () => {
    await db().transaction((tx) => keepAlike(tx, id));
    return (
      await db()
        .select()
        .from(likenesses)
        .where(or(eq(likenesses.mediumId, id), eq(likenesses.otherId, id)))
    ).length;
  };
  const before = await likenessesOf();
  expect(before).toBeGreaterThan(0);
  await withdraw(db(), who, code, 'gone');
  expect(await likenessesOf()).toBe(0);
  await reinstate(db(), who, code, 'back');
  expect(await likenessesOf()).toBe(before);
});

test('what is withdrawn goes in no drive and gets no image, and is not withdrawn twice', async () => {
  await register('USC-1');
  await expect(reinstate(db(), who, 'USC-1', 'x')).rejects.toMatchObject({ status: 409 });
  await withdraw(db(), who, 'USC-1', 'gone');
  for (const attempt of [
    () => placeMedium(db(), who, 1, 'USC-1'),
    () => takeIn(db(), who, { name: 'x.img', code: 'USC-1' }, image),
    () => withdraw(db(), who, 'USC-1', 'again'),
  ])
    await expect(attempt()).rejects.toMatchObject({ said: { code: 'media.isWithdrawn' } });
});

test('what is in a drive, or being settled, stays', async () => {
  const { id } = await register('USH-1');
  const refused = () =>
    expect(withdraw(db(), who, 'USH-1', 'x')).rejects.toMatchObject({
      said: { code: 'media.isInWork' },
    });
  const inDrive = (mediumId: number | null) =>
    db().update(stations).set({ mediumId }).where(eq(stations.id, 1));
  await inDrive(id);
  await refused();
  await inDrive(null);
  const settling = { mediumId: id, cause: 'all-turns', about: {}, operatorId: who } as const;
  await db()
    .insert(settlings)
    .values({ ...settling, state: 'settling' });
  await refused();
  await db().update(settlings).set({ state: 'done' }).where(eq(settlings.mediumId, id));
  await withdraw(db(), who, 'USH-1', 'x');
});

test('two that are one: all of either is the one’s, and both codes lead to it', async () => {
  const box = { lot: 'use d', lender: 'E. Wren', marks: ['mould'], setName: 'Use d', setNumber: 4 };
  await register('USD-1', { ...box, labelText: 'BOX 4' });
  await register('USD-2', { labelText: 'box four' });
  await register('USD-3');
  await takeIn(db(), who, { name: 'x.img', code: 'USD-1' }, image);
  await addPaper(db(), who, { code: 'USD-1' }, 'note.txt', new TextEncoder().encode('a note'));
  const described = (code: string, elements: object) =>
    describeIt(db(), who, 'media', code, DescriptionChange.parse({ elements }));
  await described('USD-1', { creator: ['A. Rook'], date: ['1987'] });
  await described('USD-2', { date: ['1988'] });
  await relate(db(), who, { of: 'USD-1', to: 'USD-3', kind: 'copy-of' });
  await relate(db(), who, { of: 'USD-1', to: 'USD-2', kind: 'not-the-same' });
  expect(
    await mergeMedia(db(), who, 'USD-1', { into: 'USD-2', reason: 'two labels on one disk' }),
  ).toEqual({ code: 'USD-2' });
  const { medium, copy, papers, description, related } = await mediumDetail(db(), 'USD-1');
  expect(medium).toMatchObject({ code: 'USD-2', ...box, labelText: 'box four' });
  expect([copy!.imageBytes, papers.map(({ name }) => name)]).toEqual([image.length, ['note.txt']]);
  expect(description.own.elements).toEqual({ creator: ['A. Rook'], date: ['1988'] });
  expect(related.map(({ kind, code }) => [kind, code])).toEqual([['copy-of', 'USD-3']]);
  expect((await held('USD')).map(([code]) => code)).toEqual(['USD-2']);
  expect(await waiting('USD')).toEqual(['USD-3']);
  expect((await takeScan(db(), who, 'usd-1', null)).code).toBe('USD-2');
  const merged = (await history('USD-2')).find(({ kind }) => kind === 'merged')!;
  expect(merged.what).toContain('sticker BOX 4');
  // What was sealed of the other is told with what was noted since.
  expect(
    (await history('USD-2')).some(({ kind, code }) => kind === 'registered' && code === 'USD-1'),
  ).toBe(true);
});

test('an agreement goes with its paper, and one whose paper is gone stands in no one’s way', async () => {
  const acquired = async (code: string) => {
    await register(code);
    const paper = await addPaper(db(), who, { code }, 'deed.txt', Buffer.from(`deed ${code}`));
    const acquisition = { from: 'E. W.', on: '', how: 'gift', notes: '', agreement: paper.id };
    await describeIt(db(), who, 'media', code, DescriptionChange.parse({ acquisition }));
    return paper.id;
  };
  const kept = await acquired('USI-1');
  const gone = await acquired('USI-2');
  await removePaper(db(), who, gone);
  for (const code of ['USI-8', 'USI-9']) await register(code);
  await mergeMedia(db(), who, 'USI-1', { into: 'USI-8', reason: 'one' });
  await mergeMedia(db(), who, 'USI-2', { into: 'USI-9', reason: 'one' });
  const agreementOf = async (code: string) =>
    (await mediumDetail(db(), code)).description.own.acquisition?.agreement;
  expect([await agreementOf('USI-8'), await agreementOf('USI-9')]).toEqual([kept, null]);
});

test('what was on its way while two became one is the one’s; of what was withdrawn it is refused', async () => {
  for (const code of ['USJ-1', 'USJ-2', 'USJ-3']) await register(code);
  const stored = () => db().transaction((tx) => storeBlob(tx, image));
  const examined = async (code: string) => {
    const { id, sha256 } = await stored();
    const source = { blobId: id, sha256: sha256!, size: image.length };
    return examineFile(db(), { name: 'x.img', code }, source);
  };
  const [ofMerged, ofWithdrawn] = [await examined('USJ-1'), await examined('USJ-3')];
  await mergeMedia(db(), who, 'USJ-1', { into: 'USJ-2', reason: 'one' });
  await withdraw(db(), who, 'USJ-3', 'gone');
  const keep = (file: typeof ofMerged) => db().transaction((tx) => keepFile(tx, who, file));
  expect(await keep(ofMerged)).toMatchObject({ code: 'USJ-2' });
  expect((await mediumDetail(db(), 'USJ-2')).copy!.imageBytes).toBe(image.length);
  await expect(keep(ofWithdrawn)).rejects.toMatchObject({ said: { code: 'media.isWithdrawn' } });
});

test('a paper that comes while two become one lies beside the one', async () => {
  for (const code of ['USK-1', 'USK-2']) await register(code);
  const paper = Buffer.alloc(800_000, 'a note ');
  const [{ id }] = await Promise.all([
    addPaper(db(), who, { code: 'USK-1' }, 'long.txt', paper),
    mergeMedia(db(), who, 'USK-1', { into: 'USK-2', reason: 'one' }),
  ]);
  expect((await mediumDetail(db(), 'USK-2')).papers.map((each) => each.id)).toEqual([id]);
});

test('a table that was saved before corrects nothing of what is another now', async () => {
  for (const code of ['USL-1', 'USL-2']) await register(code);
  await mergeMedia(db(), who, 'USL-1', { into: 'USL-2', reason: 'one' });
  const rows = [{ code: 'USL-1', change: { title: 'Another' } }];
  const { media: shown } = await previewCorrections(db(), rows);
  expect(shown[0]!.trouble).not.toBeNull();
  await expect(correctMedia(db(), who, rows, null)).rejects.toMatchObject({ status: 409 });
});

test('what leads to one leads on when that is found to be another, and no code is given again', async () => {
  for (const code of ['USE-1', 'USE-2', 'USE-3']) await register(code);
  await correctMedium(db(), who, 'USE-1', { code: 'USE-9' });
  await mergeMedia(db(), who, 'USE-9', { into: 'USE-2', reason: 'one' });
  await mergeMedia(db(), who, 'USE-1', { into: 'USE-3', reason: 'one as well' });
  for (const code of ['USE-1', 'USE-9', 'USE-2', 'USE-3'])
    expect((await mediumByCode(db(), code)).code).toBe('USE-3');
  await expect(register('USE-9')).rejects.toMatchObject({ status: 409 });
});

test('what can’t be one is refused, and nothing of it is moved', async () => {
  await register('USF-1');
  await register('USF-2', { form: '5.25' });
  await register('USF-3', { isBlank: true });
  await register('USF-4');
  await withdraw(db(), who, 'USF-4', 'gone');
  for (const code of ['USF-5', 'USF-6', 'USF-7', 'USF-8']) await register(code);
  await relate(db(), who, { of: 'USF-5', to: 'USF-6', kind: 'copy-of' });
  await relate(db(), who, { of: 'USF-7', to: 'USF-8', kind: 'copy-of' });
  await takeIn(db(), who, { name: 'x.img', code: 'USF-5' }, image);
  const refused = (from: string, into: string) =>
    mergeMedia(db(), who, from, { into, reason: 'x' }).then(
      () => null,
      (error: { said?: { code: string } }) => error.said?.code,
    );
  expect(await refused('USF-1', 'USF-1')).toBe('holdings.isTheSame');
  expect(await refused('USF-1', 'USF-2')).toBe('holdings.otherForm');
  expect(await refused('USF-1', 'USF-3')).toBe('holdings.isOurs');
  expect(await refused('USF-1', 'USF-4')).toBe('media.isWithdrawn');
  expect(await refused('USF-5', 'USF-7')).toBe('holdings.twoOriginals');
  const { id } = await mediumByCode(db(), 'USF-5');
  expect(await db().select().from(fairCopies).where(eq(fairCopies.mediumId, id))).toHaveLength(1);
  expect(await db().select().from(relations).where(eq(relations.mediumId, id))).toHaveLength(1);
  expect(await papersOf(db(), { mediumId: id })).toEqual([]);
});

test('two who merge the same two each way at once: one is refused, nothing hangs', async () => {
  await register('USG-1');
  await register('USG-2');
  const outcomes = await Promise.allSettled([
    mergeMedia(db(), who, 'USG-1', { into: 'USG-2', reason: 'a' }),
    mergeMedia(db(), who, 'USG-2', { into: 'USG-1', reason: 'b' }),
  ]);
  expect(outcomes.map(({ status }) => status).toSorted()).toEqual(['fulfilled', 'rejected']);
  const { code } = await mediumByCode(db(), 'USG-1');
  expect((await mediumByCode(db(), 'USG-2')).code).toBe(code);
  expect((await history(code)).filter(({ kind }) => kind === 'merged')).toHaveLength(1);
});
