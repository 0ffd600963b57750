/**
 * Transfers: an image over a slow serial line to a machine that has no other way in. The sending is
 * a job.
 */
import { desc, eq, inArray } from 'drizzle-orm';
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
import { refuseQuarantined } from '../signatures/signatures';
import { withBench } from '../stations/drive-hands';

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
    .regex(/^[\t\r\n\x20-\x7e]*$/, 'Only characters that can be typed.')
    .default(''),
  typingRate: z.int().min(1, 'At least one a second.').max(1000).default(10),
  linePauseMs: z.int().min(0).max(20_000).default(200),
  nameThere: z.string().trim().max(60).transform(sanitizeText).default(''),
});

/** Lines that the bench has. */
export const listLines = () => withBench((bench) => bench.lines());

export async function startTransfer(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewTransfer>,
): Promise<{ id: number }> {
  const wanted = NewTransfer.parse(input);
  const line = (await listLines()).find(({ id }) => id === wanted.line);
  if (!line) throw notFound(`line ${wanted.line}`);
  if (!line.rates.includes(wanted.rate))
    throw new UserError(`That line goes at ${line.rates.join(', ')} bits a second.`, 422, 'rate');
  return db.transaction(async (tx) => {
    const [copy] = await tx
      .select()
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, wanted.fairCopyId));
    if (!copy) throw notFound('such fair copy');
    await refuseQuarantined(tx, wanted.fairCopyId, false);
    const { imageBytes } = copy.fair_copies;
    if (imageBytes > MAX_BYTES)
      throw new UserError(
        `This image has ${imageBytes.toLocaleString('en')} bytes: over a line that would ` +
          `take days. At most ${MAX_BYTES.toLocaleString('en')} are sent so.`,
        413,
      );
    // One line does one thing at a time; the lock makes the second of two come second.
    await tx.execute('select pg_advisory_xact_lock(7340119)');
    const [busy] = await tx
      .select({ id: transfers.id, line: transfers.line })
      .from(transfers)
      .where(inArray(transfers.state, [...OPEN]))
      .then((rows) => rows.filter((row) => row.line === wanted.line));
    if (busy)
      throw new UserError(
        `Line ${wanted.line} is busy with another transfer. Wait for it, or give it up.`,
      );
    const [row] = await tx
      .insert(transfers)
      .values({
        ...wanted,
        loader: wanted.loader.replace(/\r\n?/g, '\n'),
        bytes: imageBytes,
        state: 'waiting',
        now: 'Waiting for a worker',
        startedBy: operatorId,
      })
      .returning({ id: transfers.id });
    await note(tx, {
      operatorId,
      kind: 'transfer',
      mediumId: copy.media.id,
      what:
        `${copy.media.code} on its way over line ${wanted.line} at ${wanted.rate} bits a ` +
        'second.',
    });
    await announce(tx, { kind: 'transfers' });
    await enqueue(tx, 'transfer', { transferId: row!.id });
    return { id: row!.id };
  });
}

export async function giveUpTransfer(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(transfers).where(eq(transfers.id, id)).for('update');
    if (!row) throw notFound(`transfer ${id}`);
    if (!(OPEN as readonly string[]).includes(row.state))
      throw new UserError('It has ended already.');
    await tx.update(transfers).set({ cancelled: true }).where(eq(transfers.id, id));
    await announce(tx, { kind: 'transfers' });
  });
}

export function listTransfers(db: Executor) {
  return db
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
}
