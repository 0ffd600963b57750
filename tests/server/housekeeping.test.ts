/** What is swept up, and what stays: against the real database. */
import { asWritten } from '@/core/said';
import { eq, sql } from 'drizzle-orm';
import { startAssembly, addUpload } from '@/server/features/assemblies/assemblies';
import { fairCopies } from '@/server/features/copies/tables';
import { listExtracts } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { sweep } from '@/server/features/housekeeping/sweep';
import { uploads } from '@/server/features/intake/tables';
import { createUpload } from '@/server/features/intake/uploads';
import { createBlob, appendBlob, storeBlob } from '@/server/platform/blobs/blob-store';
import { blobs } from '@/server/platform/blobs/tables';
import { jobs } from '@/server/platform/jobs/tables';
import { serverSuite } from '../support/server-suite';

const suite = serverSuite();
const who = 1;
const db = () => suite.connection.db;
const longAgo = sql`now() - interval '200 days'`;
const bytes = (text: string) => new TextEncoder().encode(text);
const store = (text: string) => db().transaction((tx) => storeBlob(tx, bytes(text)));
const age = (id: string) => db().update(blobs).set({ createdAt: longAgo }).where(eq(blobs.id, id));
const isThere = async (id: string) =>
  (await db().select().from(blobs).where(eq(blobs.id, id))).length === 1;

async function doneExtract(endedAt: Date | ReturnType<typeof sql>) {
  const { id: blobId } = await store(`a ZIP of ${String(Math.random())}`);
  await age(blobId);
  const [row] = await db()
    .insert(extracts)
    .values({
      fairCopyIds: [1],
      state: 'done',
      now: asWritten('Taken out.'),
      blobId,
      startedBy: who,
      endedAt: endedAt as Date,
    })
    .returning({ id: extracts.id });
  return { id: row!.id, blobId };
}

test('a ZIP is kept for its days and told until when; then it goes, and its row says so', async () => {
  const old = await doneExtract(longAgo);
  const fresh = await doneExtract(new Date());
  expect((await sweep(db())).extracts).toBeGreaterThanOrEqual(1);
  const states = new Map((await listExtracts(db())).map(({ id, ...row }) => [id, row]));
  expect(states.get(old.id)).toMatchObject({ state: 'expired', keptUntil: null });
  expect(states.get(fresh.id)!.keptUntil!.getTime()).toBeGreaterThan(Date.now());
  expect([await isThere(old.blobId), await isThere(fresh.blobId)]).toEqual([false, true]);
});

test('an upload that nobody went on with goes with what came of it; one under way stays', async () => {
  const given = { filename: 'half.img' };
  const left = await createUpload(db(), who, 5000, given);
  const open = await createUpload(db(), who, 5000, given);
  await db().update(uploads).set({ cameAt: longAgo }).where(eq(uploads.id, left));
  const [row] = await db().select().from(uploads).where(eq(uploads.id, left));
  expect((await sweep(db())).uploads).toBe(1);
  const ids = (await db().select({ id: uploads.id }).from(uploads)).map(({ id }) => id);
  expect([ids.includes(left), ids.includes(open), await isThere(row!.blobId!)]).toEqual([
    false,
    true,
    false,
  ]);
});

test('jobs long done are forgotten; those that wait, run or ended lately are not', async () => {
  const job = (state: 'done' | 'failed' | 'waiting', endedAt: ReturnType<typeof sql> | null) => ({
    kind: 'scan' as const,
    payload: { operatorId: who },
    subject: 777,
    state,
    endedAt: endedAt as never,
  });
  await db()
    .insert(jobs)
    .values([
      job('done', longAgo),
      job('failed', longAgo),
      job('done', sql`now()`),
      job('waiting', null),
    ]);
  expect((await sweep(db())).jobs).toBe(2);
  const left = await db().select({ state: jobs.state }).from(jobs).where(eq(jobs.subject, 777));
  expect(left.map(({ state }) => state).sort()).toEqual(['done', 'waiting']);
});

test('bytes that nothing refers to go; what an image, a change or another blob refers to stays', async () => {
  const stray = await store('a stray');
  const young = await store('young');
  const growing = await db().transaction(async (tx) => {
    const id = await createBlob(tx);
    await appendBlob(tx, id, bytes('never sealed'));
    return id;
  });
  const twinned = await store('held twice');
  const twin = await db().transaction(async (tx) => {
    const id = await createBlob(tx);
    await appendBlob(tx, id, bytes('held twice'));
    return id;
  });
  await db().update(blobs).set({ state: 'same', sameAs: twinned.id }).where(eq(blobs.id, twin));
  const { id: assembly } = await startAssembly(db(), who, { title: 'Swept', kind: 'fat12-720' });
  await addUpload(db(), assembly, 'KEPT.TXT', '', bytes('in a change'));
  const [{ edits }] = (
    await db().execute<{ edits: string }>(
      sql`select edits::text as edits from assemblies where id = ${assembly}`,
    )
  ).rows as [{ edits: string }];
  const inChange = /blob:([0-9a-f-]{36})/.exec(edits)![1]!;
  const [copy] = await db().select().from(fairCopies).limit(1);
  for (const id of [stray.id, growing, twinned.id, inChange, copy!.imageBlob]) await age(id);
  await sweep(db());
  const left = await Promise.all(
    [stray.id, growing, young.id, twinned.id, inChange, copy!.imageBlob].map(isThere),
  );
  expect(left).toEqual([false, false, true, true, true, true]);
});
