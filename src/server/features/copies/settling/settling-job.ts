/**
 * Decodes what is kept of a medium once more, all sittings' captures or the one that was taken in,
 * and stores a fair copy beside the earlier ones.
 */
import { eq } from 'drizzle-orm';
import { readContainer } from '@/core/flux/container-reader';
import { nodeDigester } from '@/node/digester';
import { readBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { saidOf, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { allLayouts } from '@/server/features/layouts/layouts';
import { media } from '@/server/features/media/tables';
import type { NewFairCopy } from '../keeping/fair-copies';
import { keepSettled } from '../keeping/keep-settled';
import { latestFairCopy } from '../queries';
import { settle, settleMedium, type Settled } from './settle-readings';
import { settlings } from '../tables';
import { settingsOf } from './track-overrides';
import { asMadeSectors } from './verdicts';
import type { SettlingWatch } from './watched-decode';
import { said, type Said } from '@/core/said';

type Row = typeof settlings.$inferSelect;
type Copy = NonNullable<Awaited<ReturnType<typeof latestFairCopy>>>;

async function setRow(tx: Executor, id: number, values: Partial<Row>): Promise<void> {
  await tx.update(settlings).set(values).where(eq(settlings.id, id));
  await announce(tx, { kind: 'media' });
}

/** It failed; what was told of it by then stays. */
export const giveUpSettling = (
  { commit, payload: { settlingId } }: JobContext<'settle'>,
  trouble: Said,
): Promise<void> =>
  commit(async (tx) => {
    const [row] = await tx
      .select({ state: settlings.state })
      .from(settlings)
      .where(eq(settlings.id, settlingId));
    if (row && row.state !== 'failed' && row.state !== 'done')
      await setRow(tx, settlingId, { state: 'failed', trouble });
  });

export async function runSettling(context: JobContext<'settle'>): Promise<JobOutcome> {
  const { db, commit, signal, payload } = context;
  const { settlingId } = payload;
  const [row] = await db.select().from(settlings).where(eq(settlings.id, settlingId));
  if (!row || row.state === 'done' || row.state === 'failed') return 'done';
  const set = (tx: Executor, values: Partial<Row>) => setRow(tx, settlingId, values);
  await commit((tx) => set(tx, { state: 'settling' }));
  try {
    const watch: SettlingWatch = {
      signal,
      tell: (progress) => commit((tx) => set(tx, { progress })),
      isHurried: () => isHurried(db, settlingId),
    };
    const settleOnce = () => settledAgain(db, row, watch);
    await keepSettled({ db, commit }, row.mediumId, settleOnce, (tx) => set(tx, { state: 'done' }));
  } catch (error) {
    if (isTakenUpAgain(error, signal)) throw error;
    const trouble = saidOf(error, (message) => said('copies.itCouldNotBe', { message }));
    await giveUpSettling(context, trouble);
    if (!(error instanceof UserError)) throw error;
  }
  return 'done';
}

async function isHurried(db: Database, id: number): Promise<boolean> {
  const [row] = await db
    .select({ isHurried: settlings.isHurried })
    .from(settlings)
    .where(eq(settlings.id, id));
  return row?.isHurried ?? false;
}

async function settledAgain(db: Database, row: Row, watch: SettlingWatch): Promise<NewFairCopy> {
  const { mediumId, operatorId } = row;
  const [medium] = await db.select().from(media).where(eq(media.id, mediumId));
  const copy = await latestFairCopy(db, mediumId);
  const description = {
    code: medium!.code,
    title: medium!.title,
    label: medium!.labelText,
    lender: medium!.lender,
  };
  const settled =
    copy!.source === 'upload'
      ? await settleTakenIn(db, copy!, description, watch)
      : await settleMedium(db, mediumId, description, watch);
  if (!settled) throw new UserError(said('copies.nothingWasFoundIn'));
  return {
    operatorId,
    mediumId,
    source: copy!.source,
    sourceName: copy!.sourceName ?? undefined,
    image: settled.image,
    settled,
    captureBlob: copy!.captureBlob,
    problems: settled.problems,
    why: whySaid(row),
  };
}

async function settleTakenIn(
  db: Database,
  { mediumId, captureBlob }: Copy,
  description: Record<string, string>,
  watch: SettlingWatch,
): Promise<Settled | null> {
  const container = readContainer(await readBlob(db, captureBlob!), nodeDigester);
  return settle({
    header: container.header,
    readings: container.tracks,
    problems: container.problems,
    description,
    layouts: await allLayouts(db),
    asMade: await asMadeSectors(db, mediumId),
    settings: await settingsOf(db, mediumId),
    watch,
  });
}

function whySaid({ cause, about }: Row): Said {
  switch (cause) {
    case 'layout':
      return said('copies.settledByTheLayout', { layout: about.layout });
    case 'setting':
      return said('copies.settledWithASetting', { cylinder: about.cylinder, head: about.head });
    case 'verdict':
      return said('copies.settledByWhatWas');
    case 'all-turns':
      return said('copies.settledByAllTurns');
  }
}
