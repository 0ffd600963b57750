/**
 * Transfers: an image over a slow serial line to a machine that has no other way in. The sending is
 * a job.
 */
import { nowTold } from '@/messages/tell';
import { and, desc, eq, inArray } from 'drizzle-orm';
import { z } from 'zod';
import { transfers } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { note } from '../ledger/ledger';
import { refuseHeld } from '../rights/holds';
import { refuseQuarantined } from '../signatures/signatures';
import { withBench } from '../stations/drive-hands';
import { said } from '@/core/said';
import { say } from '@/messages';

/** Most bytes that are sent so: a day at 9,600 bits a second is some 80 MB. */
const MAX_BYTES = 16 << 20;
const OPEN = ['waiting', 'typing', 'sending', 'held'] as const;

export const NewTransfer = z.object({
  fairCopyId: z.int().min(1),
  line: z.string().max(40),
  rate: z.int().min(50).max(1_000_000),
  large: z.boolean().default(false),
  /** Only characters that a keyboard has: it goes over as typed text. */
  loader: z
    .string()
    .max(20_000)
    .regex(/^[\t\r\n\x20-\x7e]*$/, say.forms.onlyCharactersThatCan)
    .default(''),
  typingRate: z.int().min(1, say.forms.atLeastOneA).max(1000).default(10),
  linePauseMs: z.int().min(0).max(20_000).default(200),
  nameThere: z.string().trim().max(60).transform(sanitizeText).default(''),
});

/** Lines that the bench has. */
export const listLines = () => withBench((bench) => bench.lines());

/** One line does one thing at a time; the lock makes the second of two come second. */
async function refuseBusyLine(tx: Executor, line: string): Promise<void> {
  await tx.execute('select pg_advisory_xact_lock(7340119)');
  const [busy] = await tx
    .select({ id: transfers.id })
    .from(transfers)
    .where(and(eq(transfers.line, line), inArray(transfers.state, [...OPEN])));
  if (busy) throw new UserError(said('transfers.lineIsBusyWith', { line }));
}

export async function startTransfer(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewTransfer>,
): Promise<{ id: number }> {
  const wanted = NewTransfer.parse(input);
  await lineFor(wanted);
  return db.transaction(async (tx) => {
    const [copy] = await tx
      .select()
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, wanted.fairCopyId));
    if (!copy) throw notFound(said('platform.suchFairCopy'));
    await refuseQuarantined(tx, wanted.fairCopyId, false);
    await refuseHeld(tx, [copy.media.id], operatorId);
    const { imageBytes } = copy.fair_copies;
    if (imageBytes > MAX_BYTES)
      throw new UserError(
        said('transfers.thisImageHasBytes', { imageBytes, maxBytes: MAX_BYTES }),
        413,
      );
    await refuseBusyLine(tx, wanted.line);
    const [row] = await tx
      .insert(transfers)
      .values({
        ...wanted,
        loader: wanted.loader.replace(/\r\n?/g, '\n'),
        bytes: imageBytes,
        state: 'waiting',
        now: said('platform.waitingForAWorker'),
        startedBy: operatorId,
      })
      .returning({ id: transfers.id });
    await note(tx, {
      operatorId,
      kind: 'transfer',
      mediumId: copy.media.id,
      what: said('transfers.onItsWayOver', {
        code: copy.media.code,
        line: wanted.line,
        rate: wanted.rate,
      }),
    });
    await announce(tx, { kind: 'transfers' });
    await enqueue(tx, 'transfer', { transferId: row!.id }, { askedBy: operatorId });
    return { id: row!.id };
  });
}

async function lineFor(wanted: {
  fairCopyId: number;
  line: string;
  rate: number;
  large: boolean;
  loader: string;
  typingRate: number;
  linePauseMs: number;
  nameThere: string;
}) {
  const line = (await listLines()).find(({ id }) => id === wanted.line);
  if (!line) throw notFound(said('transfers.line', { line: wanted.line }));
  if (!line.rates.includes(wanted.rate))
    throw new UserError(
      said('transfers.thatLineGoesAt', { rates: line.rates.join(', ') }),
      422,
      'rate',
    );
}

export async function giveUpTransfer(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(transfers).where(eq(transfers.id, id)).for('update');
    if (!row) throw notFound(said('transfers.transfer', { id }));
    if (!(OPEN as readonly string[]).includes(row.state))
      throw new UserError(said('platform.itHasEndedAlready'));
    await tx.update(transfers).set({ cancelled: true }).where(eq(transfers.id, id));
    await announce(tx, { kind: 'transfers' });
  });
}

export async function listTransfers(db: Executor) {
  const rows = await db
    .select({
      id: transfers.id,
      line: transfers.line,
      rate: transfers.rate,
      large: transfers.large,
      state: transfers.state,
      now: transfers.now,
      bytes: transfers.bytes,
      progress: transfers.progress,
      repeated: transfers.repeated,
      cancelled: transfers.cancelled,
      nameThere: transfers.nameThere,
      hasLoader: transfers.loader,
      typingRate: transfers.typingRate,
      code: media.code,
      title: media.title,
      sha256: fairCopies.imageSha256,
      who: operators.name,
      startedAt: transfers.startedAt,
      endedAt: transfers.endedAt,
    })
    .from(transfers)
    .innerJoin(fairCopies, eq(fairCopies.id, transfers.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .innerJoin(operators, eq(operators.id, transfers.startedBy))
    .orderBy(desc(transfers.id))
    .limit(50)
    .then((rows) =>
      rows.map(({ hasLoader, ...row }) => ({
        ...row,
        loaderLines:
          hasLoader === '' ? 0 : hasLoader.split('\n').filter((line) => line.trim() !== '').length,
      })),
    );
  return rows.map(nowTold);
}
