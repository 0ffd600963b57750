/**
 * Files of many media taken out at once: a job makes the ZIP, so that it goes on without the page,
 * tells how far it is, and can be given up.
 */
import { nowTold } from '@/messages/tell';
import { and, desc, eq, ExtractTablesWithRelations, inArray, sql } from 'drizzle-orm';
import { z } from 'zod';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobs } from '@/server/platform/blobs/tables';
import { refuseWithoutRoom } from '@/server/platform/blobs/store-room';
import { refuseDamaged, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { findings } from '../signatures/tables';
import { extracts } from './tables';
import { fairCopies, files, volumes } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { config } from '@/server/platform/config';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { rangedDownload } from '@/server/platform/http/ranges';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { EXTRACT_CONTENTS } from '@/server/states';
import { imageName } from '../copies/image-of-copy';
import { refuseHeldCopies } from '../rights/holds';
import { packerFor } from '../sounds/sounds-out';
import { said } from '@/core/said';
import { NodePgQueryResultHKT } from 'drizzle-orm/node-postgres';
import { alias, PgTransaction } from 'drizzle-orm/pg-core';

/** Files that are chosen one by one, of all copies together. */
export const MOST_CHOSEN = 20_000;

/** What the route takes. */
export const NewExtract = z.object({
  copies: z.array(z.int().min(1)).min(1).max(5000),
  what: z.enum(EXTRACT_CONTENTS).default('files'),
  packed: z.boolean().default(false),
  /** Of sounds: rows of the files that are wanted, a program with the samples that it plays. */
  only: z.array(z.int().min(1)).min(1).max(MOST_CHOSEN).nullable().default(null),
  /** Of sounds: what is the same is written once. */
  once: z.boolean().default(false),
  asText: z.boolean().default(false),
  acknowledgesQuarantine: z.boolean().default(false),
});

const LISTED = 8;
/** Its image, and its sound. */
const TIMES_RAW = 2;

export type ExtractAsked = z.input<typeof NewExtract>;

export async function startExtract(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewExtract>,
): Promise<{ id: number }> {
  const asked = NewExtract.parse(input);
  const { copies, what, packed, asText, acknowledgesQuarantine } = asked;
  const ofSounds = what === 'sounds' && { only: asked.only, isOnce: asked.once };
  packerFor(packed && what === 'sounds');
  await refuseWithoutRoom(await bytesOfImages(db, copies));
  return db.transaction(async (tx) => {
    const ids = await checkedCopies(copies, tx, acknowledgesQuarantine);
    await refuseHeldCopies(tx, ids, operatorId);
    if (ofSounds && ofSounds.only) await refuseForeign(tx, ids, ofSounds.only);
    const [row] = await tx
      .insert(extracts)
      .values({
        fairCopyIds: ids,
        what,
        packed: packed && what !== 'files',
        asText,
        ...ofSounds,
        acknowledgesQuarantine,
        state: 'waiting',
        now: said('platform.waitingForAWorker'),
        startedBy: operatorId,
      })
      .returning({ id: extracts.id });
    await announce(tx, { kind: 'extracts' });
    await enqueue(tx, 'extract', { extractId: row!.id }, { askedBy: operatorId });
    return { id: row!.id };
  });
}

/**
 * What a ZIP of them, or of their files, takes at the most, nearly: of a disc that was read raw its
 * raw image too, and its sound, which is no more than that.
 */
async function bytesOfImages(db: Executor, copies: readonly number[]): Promise<number> {
  const raw = alias(blobs, 'raw');
  const isRaw = sql`jsonb_array_length(coalesce(${fairCopies.blocks} -> 'tracks', '[]')) > 0`;
  const [sum] = await db
    .select({
      bytes: sql<number>`coalesce(sum(${blobs.size} + ${TIMES_RAW} * coalesce(${raw.size}, 0)), 0)::float8`,
    })
    .from(fairCopies)
    .innerJoin(blobs, eq(blobs.id, fairCopies.imageBlob))
    .leftJoin(raw, and(eq(raw.id, fairCopies.captureBlob), isRaw))
    .where(inArray(fairCopies.id, [...copies]));
  return sum!.bytes;
}

const DAY_MS = 86_400_000;

const keptUntil = (endedAt: Date | null) =>
  endedAt && new Date(endedAt.getTime() + config().SPINDLE_KEEP_EXTRACTS_DAYS * DAY_MS);

/** What is wanted alone is on the copies that are asked for: else nothing would come of it. */
async function refuseForeign(tx: Executor, ids: readonly number[], only: readonly number[]) {
  const there = await tx
    .select({ id: files.id })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(and(inArray(files.id, [...only]), inArray(volumes.fairCopyId, [...ids])));
  if (there.length < new Set(only).size) throw notFound(said('platform.suchFile'));
}

async function checkedCopies(
  copies: number[],
  tx: PgTransaction<
    NodePgQueryResultHKT,
    Record<string, never>,
    ExtractTablesWithRelations<Record<string, never>>
  >,
  acknowledgesQuarantine: boolean,
) {
  const ids = [...new Set(copies)];
  const known = await tx
    .select({ id: fairCopies.id })
    .from(fairCopies)
    .where(inArray(fairCopies.id, ids));
  if (known.length < ids.length) throw notFound(said('extracts.oneOfTheseFair'));
  const held = acknowledgesQuarantine
    ? []
    : await tx
        .selectDistinct({ code: media.code })
        .from(findings)
        .innerJoin(fairCopies, eq(fairCopies.id, findings.fairCopyId))
        .innerJoin(media, eq(media.id, fairCopies.mediumId))
        .where(inArray(findings.fairCopyId, ids));
  if (held.length > 0)
    throw new UserError(
      said('extracts.areInQuarantineNothing', {
        held: held.length,
        codes: held.slice(0, 6).map(({ code }) => code),
      }),
      409,
      null,
      { code: 'in-quarantine' },
    );
  return ids;
}

/** The last ones, newest first. */
export async function listExtracts(db: Executor) {
  const rows = await db
    .select({
      id: extracts.id,
      state: extracts.state,
      now: extracts.now,
      filesDone: extracts.filesDone,
      filesInAll: extracts.filesInAll,
      fairCopyIds: extracts.fairCopyIds,
      asText: extracts.asText,
      what: extracts.what,
      packed: extracts.packed,
      isAlone: extracts.isAlone,
      who: operators.name,
      startedAt: extracts.startedAt,
      endedAt: extracts.endedAt,
    })
    .from(extracts)
    .innerJoin(operators, eq(operators.id, extracts.startedBy))
    .orderBy(desc(extracts.id))
    .limit(LISTED)
    .then((rows) =>
      rows.map(({ fairCopyIds, ...row }) => ({
        ...row,
        media: fairCopyIds.length,
        keptUntil: row.state === 'done' ? keptUntil(row.endedAt) : null,
      })),
    );
  return rows.map(nowTold);
}

export async function cancelExtract(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(extracts).where(eq(extracts.id, id)).for('update');
    if (!row) throw notFound(said('extracts.suchExtract'));
    if (row.state !== 'waiting' && row.state !== 'running')
      throw new UserError(said('platform.itHasEndedAlready'), 409);
    await tx
      .update(extracts)
      .set({ cancelled: true, now: said('extracts.beingGivenUp') })
      .where(eq(extracts.id, id));
    await announce(tx, { kind: 'extracts' });
  });
}

export async function extractBytes(
  db: Database,
  id: number,
  headers = new Headers(),
): Promise<Response> {
  const [row] = await db.select().from(extracts).where(eq(extracts.id, id));
  if (!row?.blobId || row.state !== 'done') throw notFound(said('extracts.suchExtract'));
  await refuseDamaged(db, row.blobId);
  const { size, sha256 } = await blobOf(db, row.blobId);
  const blob = row.blobId;
  const alone = row.isAlone
    ? await db
        .select({ code: media.code, form: media.form })
        .from(fairCopies)
        .innerJoin(media, eq(media.id, fairCopies.mediumId))
        .where(eq(fairCopies.id, row.fairCopyIds[0]!))
    : [];
  const name = alone[0] ? `${imageName(alone[0].code, alone[0].form)}.gz` : `extract-${id}.zip`;
  return rangedDownload(headers, {
    name,
    size,
    tag: sha256,
    type: alone[0] ? 'application/gzip' : 'application/zip',
    stream: (start, end) => streamBlob(db, blob, start, end),
  });
}
