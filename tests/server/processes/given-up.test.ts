/**
 * Jobs of every kind that so many workers died of: what hangs on each ends in its own way, is told,
 * and leaves its station, its line and its bytes free for what comes next.
 */
import { randomUUID } from 'node:crypto';
import { and, eq, inArray, notInArray, sql } from 'drizzle-orm';
import { startAssembly } from '@/server/features/assemblies/assemblies';
import { askToSettle } from '@/server/features/assemblies/settle-assembly';
import { assemblies } from '@/server/features/assemblies/tables';
import { giveVerdict } from '@/server/features/copies/settling/said-of-copy';
import { fairCopies, settlings } from '@/server/features/copies/tables';
import { startExtract } from '@/server/features/extracts/extracts';
import { extracts } from '@/server/features/extracts/tables';
import { appendPart } from '@/server/features/intake/append-part';
import { uploads } from '@/server/features/intake/tables';
import { createUpload } from '@/server/features/intake/uploads';
import { media } from '@/server/features/media/tables';
import { askSitting, startSitting } from '@/server/features/sittings/sittings';
import { sittings } from '@/server/features/sittings/tables';
import { placeMedium } from '@/server/features/stations/placing';
import { startSelfTest } from '@/server/features/stations/self-tests';
import { selfTests } from '@/server/features/stations/tables';
import { transfers } from '@/server/features/transfers/tables';
import { startTransfer } from '@/server/features/transfers/transfers';
import { JOB_RULES } from '@/server/platform/jobs/kinds';
import { jobs, workers } from '@/server/platform/jobs/tables';
import { until } from '../../support/application';
import { serverSuite } from '../../support/server-suite';

const suite = serverSuite({});
const who = 1;
const LINE = 'L1';
const db = () => suite.connection.db;

/** Every job that waits, as one more death of a worker leaves it. */
async function dieOfAll(): Promise<void> {
  const dead = randomUUID();
  const heartbeatAt = new Date(Date.now() - 60_000);
  await db().insert(workers).values({ id: dead, host: 'elsewhere', pid: 1, heartbeatAt });
  for (const [kind, { mostCrashes }] of Object.entries(JOB_RULES))
    await db()
      .update(jobs)
      .set({ state: 'running', workerId: dead, crashes: mostCrashes - 1 })
      .where(sql`${jobs.kind} = ${kind} and ${jobs.state} = 'waiting'`);
}

const copyOf = async (code: string) =>
  (
    await db()
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(media.code, code))
  )[0]!.id;

async function upload(): Promise<string> {
  const bytes = new Uint8Array(2000).fill(7);
  const id = await createUpload(db(), who, bytes.length, { filename: 'letters.img' });
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      controller.enqueue(bytes);
      controller.close();
    },
  });
  await appendPart(db(), id, 0, body);
  return id;
}

test('each ends in its own way, and a sitting goes on when it is asked to', async () => {
  await placeMedium(db(), who, 1, 'SKP-0117');
  const sitting = await startSitting(db(), who, 1);
  await placeMedium(db(), who, 2, 'REF-0001');
  await startSelfTest(db(), who, 2);
  const fairCopyId = await copyOf('SKP-0104');
  const extract = await startExtract(db(), who, { copies: [fairCopyId], what: 'files' });
  const verdict = { cylinder: 3, head: 0, r: 1, verdict: 'damage', what: 'a fold' } as const;
  await giveVerdict(db(), who, 'SKP-0103', verdict);
  const assembly = await startAssembly(db(), who, { title: 'Set aside', kind: 'fat12-720' });
  await askToSettle(db(), who, assembly.id);
  const transfer = await startTransfer(db(), who, { fairCopyId, line: LINE, rate: 9600 });
  const uploaded = await upload();
  const waiting = await db()
    .select()
    .from(jobs)
    .where(and(eq(jobs.state, 'waiting'), notInArray(jobs.kind, ['alike', 'sounds'])));
  expect(waiting.map(({ kind }) => kind).sort()).toEqual(
    ['assembly', 'extract', 'intake', 'self-test', 'settle', 'sitting', 'transfer'].sort(),
  );

  await dieOfAll();
  suite.application.startWorker();
  await until('all to be set aside', async () => {
    const ids = waiting.map(({ id }) => id);
    const rows = await db().select().from(jobs).where(inArray(jobs.id, ids));
    return rows.every(({ state }) => state === 'failed');
  });

  const died = { code: 'platform.theWorkerDied' };
  const [read] = await db().select().from(sittings).where(eq(sittings.id, sitting));
  expect(read).toMatchObject({ state: 'paused', now: died });
  expect(await db().select().from(selfTests)).toMatchObject([{ state: 'failed', now: died }]);
  const ofExtract = eq(extracts.id, extract.id);
  expect(await db().select().from(extracts).where(ofExtract)).toMatchObject([
    { state: 'failed', now: died, blobId: null },
  ]);
  expect(await db().select().from(settlings)).toMatchObject([{ state: 'failed', trouble: died }]);
  expect(await db().select().from(assemblies).where(eq(assemblies.id, assembly.id))).toMatchObject([
    { settledBy: null, copyId: null, trouble: died },
  ]);
  expect(await db().select().from(transfers).where(eq(transfers.id, transfer.id))).toMatchObject([
    { state: 'failed', now: died },
  ]);
  expect(await db().select().from(uploads).where(eq(uploads.id, uploaded))).toMatchObject([
    { state: 'refused', now: died, blobId: null },
  ]);

  await askSitting(db(), who, sitting, 'go-on');
  await until('the sitting to read', async () => {
    const [row] = await db().select().from(sittings).where(eq(sittings.id, sitting));
    return row!.state === 'reading' || row!.state === 'asks' || row!.state === 'done';
  });
});
