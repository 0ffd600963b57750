/**
 * Assemblies: a volume made or changed step by step, undone and done again, and settled as an image
 * of its own.
 */
import { and, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { z } from 'zod';
import { applyEdit, Edit, editWords, type PutEdit } from '@/core/assembly/edits';
import { fitFiles, gather } from '@/core/assembly/fitting';
import { kindOnTarget, type FileFrom } from '@/core/assembly/file-types';
import { checkTarget, TARGET_HEAD_BYTES, TARGET_PROFILES } from '@/core/assembly/targets';
import { sameBytes } from '@/core/bits/same-bytes';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import type { MediumForm } from '@/core/medium-form';
import { VolumeRefusal } from '@/core/volume/writable';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { assemblies } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { findings } from '../signatures/tables';
import { fairCopies, files, volumes } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import {
  bytesToPut,
  doubtOf,
  doubtsOfCopy,
  filesWhere,
  MAX_FILE_BYTES,
  whyNotPut,
  type FileRow,
} from './assembly-sources';
import {
  assemblyRow,
  changesIn,
  openAssembly,
  refusing,
  volumeIn,
  type AssemblyRow,
  type OpenAssembly,
} from './assembly-volume';
import { storeFairCopy } from '../copies/fair-copies';
import { findLayout } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { drawCode } from '../media/codes';
import { refuseQuarantined } from '../signatures/signatures';

/** Edits of one assembly; each look makes all of them again. */
const MAX_EDITS = 5000;

const folder = z.string().max(1000).default('');

export const NewAssembly = z
  .object({
    title: z
      .string()
      .trim()
      .min(1, 'Say what it is, in a few words.')
      .max(200)
      .transform(sanitizeText),
    kind: z.string().max(40).nullable().default(null),
    label: z.string().trim().max(16).transform(sanitizeText).default(''),
    baseId: z.int().min(1).nullable().default(null),
  })
  .superRefine(({ kind, baseId, label }, context) => {
    const blank = BLANK_KINDS.find(({ id }) => id === kind);
    if (baseId === null && !blank)
      context.addIssue({
        code: 'custom',
        path: ['kind'],
        message: 'Choose a kind of volume, or an image to begin with.',
      });
    if (blank && [...label].length > blank.mostLabel)
      context.addIssue({
        code: 'custom',
        path: ['label'],
        message:
          blank.mostLabel === 0
            ? 'Such a volume has no label.'
            : `At most ${blank.mostLabel} characters.`,
      });
  });

export const AssemblyAction = z.discriminatedUnion('do', [
  z.object({ do: z.literal('add'), files: z.array(z.int().min(1)).min(1).max(1000), folder }),
  z.object({ do: z.literal('edit'), edit: Edit }),
  z.object({
    do: z.literal('gather'),
    copies: z.array(z.int().min(1)).min(1).max(500),
    how: z.enum(['folders', 'prefixes']),
  }),
  z.object({ do: z.literal('undo') }),
  z.object({ do: z.literal('redo') }),
  z.object({ do: z.literal('target'), target: z.string().max(60).nullable() }),
  z.object({ do: z.literal('settle') }),
  z.object({ do: z.literal('discard') }),
]);
export type AssemblyAction = z.output<typeof AssemblyAction>;

/** What became of files that were to be put: under another name, or not at all, and why. */
export interface Outcome {
  put: { path: string; was: string; renamed: string | null; doubt: string | null }[];
  left: { name: string; why: string }[];
}

export async function startAssembly(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewAssembly>,
): Promise<{ id: number }> {
  const { title, kind, label, baseId } = NewAssembly.parse(input);
  return db.transaction(async (tx) => {
    // What can't be opened for writing is told now, not at the first file.
    const { volume } = await openAssembly(tx, {
      kind: baseId === null ? kind : null,
      label,
      baseId,
      edits: [],
      done: 0,
    });
    const target =
      baseId === null
        ? TARGET_PROFILES.find(
            ({ layouts, filesystems }) =>
              filesystems.includes(volume.filesystem) &&
              layouts.includes(BLANK_KINDS.find(({ id }) => id === kind)?.layout ?? ''),
          )
        : null;
    const [row] = await tx
      .insert(assemblies)
      .values({
        title,
        kind: baseId === null ? kind : null,
        label,
        baseId,
        target: target?.id ?? null,
        startedBy: operatorId,
      })
      .returning({ id: assemblies.id });
    await announce(tx, { kind: 'assemblies' });
    return { id: row!.id };
  });
}

/** Those that are open, the last changed first, and the last ones that were settled. */
export async function listAssemblies(db: Executor) {
  const base = db
    .select({ id: fairCopies.id, code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .as('base');
  const copy = db
    .select({ id: fairCopies.id, code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .as('copy');
  return db
    .select({
      id: assemblies.id,
      title: assemblies.title,
      kind: assemblies.kind,
      edits: assemblies.done,
      changedAt: assemblies.changedAt,
      who: operators.name,
      base: sql<string | null>`${base.code}`,
      settledAs: sql<string | null>`${copy.code}`,
    })
    .from(assemblies)
    .innerJoin(operators, eq(operators.id, assemblies.startedBy))
    .leftJoin(base, eq(base.id, assemblies.baseId))
    .leftJoin(copy, eq(copy.id, assemblies.copyId))
    .orderBy(sql`${assemblies.copyId} is not null`, desc(assemblies.changedAt))
    .limit(100);
}

const codeOfCopy = async (db: Executor, id: number | null) =>
  id === null
    ? null
    : ((
        await db
          .select({ code: media.code })
          .from(fairCopies)
          .innerJoin(media, eq(media.id, fairCopies.mediumId))
          .where(eq(fairCopies.id, id))
      )[0]?.code ?? null);

/** The layout that its image goes on: the blank's own, or that of the image it began with. */
async function layoutFor(db: Executor, { kind, baseId }: AssemblyRow): Promise<string | null> {
  if (baseId === null) return BLANK_KINDS.find(({ id }) => id === kind)?.layout ?? null;
  const [copy] = await db
    .select({ layout: fairCopies.layout })
    .from(fairCopies)
    .where(eq(fairCopies.id, baseId));
  return copy?.layout ?? null;
}

export async function assemblyView(db: Executor, id: number) {
  const row = await assemblyRow(db, id);
  const open = await openAssembly(db, row);
  const { volume, image } = open;
  const { problems, label, files: entries, gone } = await changesIn(open);
  const [layout, base, settledAs] = await Promise.all([
    layoutFor(db, row),
    codeOfCopy(db, row.baseId),
    codeOfCopy(db, row.copyId),
  ]);
  const profile = TARGET_PROFILES.find(({ id: own }) => own === row.target);
  return {
    id,
    title: row.title,
    kind: row.kind,
    filesystem: volume.filesystem,
    label,
    layout,
    bytes: image.length,
    base,
    settledAs,
    hasFolders: volume.hasFolders,
    keeps: volume.keeps,
    room: volume.room(),
    entries: entries.map((entry) => ({
      ...entry,
      cost: entry.kind === 'file' ? volume.cost(entry.bytes, entry.type) : null,
    })),
    gone,
    done: row.edits.slice(0, row.done).map(editWords),
    undone: row.edits.slice(row.done).map(editWords),
    problems: problems.map(({ message }) => message),
    target: profile
      ? {
          id: profile.id,
          title: profile.title,
          findings: checkTarget(profile, {
            layout,
            bytes: image.length,
            volumes: [{ filesystem: volume.filesystem, totalBytes: image.length }],
            head: image.subarray(0, TARGET_HEAD_BYTES),
          }),
        }
      : null,
  };
}

/** A file that is to be put, as what it becomes there, under the name that it had. */
interface Wish {
  name: string;
  edit: Omit<PutEdit, 'path'>;
  /** What is not sound of it. */ doubt: string | null;
}

async function wishFor(
  db: Executor,
  filesystem: string,
  name: string,
  from: FileFrom,
  edit: Wish['edit'],
): Promise<Wish> {
  return {
    name,
    doubt: null,
    edit: { ...edit, ...kindOnTarget(filesystem, await bytesToPut(db, edit), from) },
  };
}

/** Puts files that were fitted; what the volume itself refuses is left, with its reason. */
async function putAll(
  db: Executor,
  { volume }: OpenAssembly,
  wishes: readonly (Wish & { path: string; renamed: string | null; fits: boolean; cost: number })[],
  outcome: Outcome,
): Promise<PutEdit[]> {
  const edits: PutEdit[] = [];
  const { unit } = volume.room();
  for (const { edit, name, doubt, path, renamed, fits, cost } of wishes) {
    if (!fits) {
      outcome.left.push({
        name,
        why: `It needs ${cost} ${unit}${cost === 1 ? '' : 's'} and finds no room.`,
      });
      continue;
    }
    const put: PutEdit = { ...edit, path };
    try {
      applyEdit(volume, put, await bytesToPut(db, edit));
      edits.push(put);
      outcome.put.push({ path, was: name, renamed, doubt });
    } catch (error) {
      if (!(error instanceof VolumeRefusal)) throw error;
      outcome.left.push({ name, why: error.message });
    }
  }
  return edits;
}

const inFolder = (entries: readonly { path: string }[], where: string) =>
  new Set(
    entries
      .map(({ path }) => path)
      .filter((path) => path.slice(0, Math.max(0, path.lastIndexOf('/'))) === where)
      .map((path) => path.split('/').pop()!),
  );

/** Fits files into a folder and puts them. */
async function addFiles(
  db: Executor,
  open: OpenAssembly,
  where: string,
  wishes: readonly Wish[],
  outcome: Outcome,
): Promise<Edit[]> {
  const entries =
    (await volumeIn(open.image))?.volume.entries.filter(({ deleted }) => !deleted) ?? [];
  if (where !== '' && !entries.some(({ path, kind }) => path === where && kind === 'directory'))
    throw new UserError(`There is no folder ${where} on this volume. Nothing was put in.`, 409);
  const fitted = fitFiles(
    open.volume,
    where,
    inFolder(entries, where),
    wishes.map(({ name, edit: { bytes, type } }) => ({ name, bytes, type })),
  );
  return putAll(
    db,
    open,
    wishes.map((wish, i) => ({ ...wish, ...fitted[i]! })),
    outcome,
  );
}

/**
 * What becomes of files of the holdings there; those that can't be put, or are in quarantine, are
 * left with the reason.
 */
async function wishesOf(
  db: Executor,
  filesystem: string,
  rows: readonly FileRow[],
  outcome: Outcome,
): Promise<{ id: number; code: string; wish: Wish }[]> {
  const copies = [...new Set(rows.map(({ fair_copies: copy }) => copy.id))];
  const held = new Set(
    copies.length === 0
      ? []
      : (
          await db
            .selectDistinct({ id: findings.fairCopyId })
            .from(findings)
            .where(inArray(findings.fairCopyId, copies))
        ).map(({ id }) => id),
  );
  const wishes = [];
  for (const row of rows) {
    const {
      files: file,
      volumes: volume,
      media: { code },
      fair_copies: copy,
    } = row;
    const name = file.path.split('/').pop()!;
    const why = held.has(copy.id) ? `${code} is in quarantine.` : whyNotPut(row);
    if (why) {
      outcome.left.push({ name: `${name} of ${code}`, why });
      continue;
    }
    const doubt = doubtOf(row);
    const from = `${code}, ${file.path}${doubt ? ` (${doubt})` : ''}`.slice(0, 400);
    const wish = await wishFor(
      db,
      filesystem,
      name,
      { filesystem: volume.filesystem, type: file.type, address: file.address },
      { kind: 'put', source: `file:${file.id}`, bytes: file.bytes, from, modified: file.modified },
    );
    wishes.push({ id: file.id, code, wish: { ...wish, doubt } });
  }
  return wishes;
}

async function filesToAdd(db: Executor, ids: readonly number[]): Promise<FileRow[]> {
  const found = new Map(
    (await filesWhere(db, inArray(files.id, [...ids]))).map((row) => [row.files.id, row]),
  );
  // In the order they were chosen in, and as often.
  return ids.map((id) => {
    const row = found.get(id);
    if (!row) throw notFound('one of these files');
    return row;
  });
}

async function gatherCopies(
  db: Executor,
  open: OpenAssembly,
  copies: readonly number[],
  how: 'folders' | 'prefixes',
  outcome: Outcome,
): Promise<Edit[]> {
  const rows = await filesWhere(
    db,
    and(
      inArray(fairCopies.id, [...copies]),
      isNull(volumes.view),
      isNull(volumes.inside),
      eq(files.kind, 'file'),
      eq(files.deleted, false),
      isNull(files.link),
    ),
  );
  const wishes = await wishesOf(db, open.volume.filesystem, rows, outcome);
  const taken = inFolder(
    (await volumeIn(open.image))?.volume.entries.filter(({ deleted }) => !deleted) ?? [],
    '',
  );
  const titles = [...new Set(wishes.map(({ code }) => code))];
  const gathered = gather(
    open.volume,
    taken,
    titles.map((title) => ({
      title,
      files: wishes
        .filter(({ code }) => code === title)
        .map(
          ({
            id,
            wish: {
              name,
              edit: { bytes, type },
            },
          }) => ({ id, name, bytes, type }),
        ),
    })),
    how,
  );
  const edits: Edit[] = gathered.folders.map((path): Edit => ({ kind: 'folder', path }));
  for (const edit of edits) applyEdit(open.volume, edit, null);
  for (const { title, name } of gathered.left)
    outcome.left.push({ name: `${name} of ${title}`, why: 'It finds no room.' });
  const own = new Map(wishes.map(({ id, wish }) => [id, wish]));
  edits.push(
    ...(await putAll(
      db,
      open,
      gathered.files.map(({ id, path, renamed }) => ({
        ...own.get(id)!,
        path,
        renamed,
        fits: true,
        cost: 0,
      })),
      outcome,
    )),
  );
  return edits;
}

/** Changes an assembly under its lock; what `work` gives is done behind what is done already. */
function changing<T>(
  db: Database,
  id: number,
  work: (
    tx: Executor,
    open: OpenAssembly,
    row: AssemblyRow,
  ) => Promise<{ edits: Edit[]; result: T }>,
): Promise<T> {
  return db.transaction(async (tx) => {
    await tx
      .select({ id: assemblies.id })
      .from(assemblies)
      .where(eq(assemblies.id, id))
      .for('update');
    const row = await assemblyRow(tx, id);
    refuseSettled(row);
    const { edits, result } = await refusing(async () =>
      work(tx, await openAssembly(tx, row), row),
    );
    if (row.done + edits.length > MAX_EDITS)
      throw new UserError(
        `An assembly takes ${MAX_EDITS} changes at most. Settle it, and go on from its image.`,
        409,
      );
    if (edits.length > 0)
      await tx
        .update(assemblies)
        .set({
          edits: [...row.edits.slice(0, row.done), ...edits],
          done: row.done + edits.length,
          changedAt: new Date(),
        })
        .where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
    return result;
  });
}

function refuseSettled({ copyId, title }: AssemblyRow): void {
  if (copyId !== null)
    throw new UserError(
      `“${title}” is settled: its image is kept and does not change. Begin another ` +
        'assembly from that image.',
      409,
    );
}

/** Puts a file from the desktop into a folder. */
export function addUpload(
  db: Database,
  id: number,
  name: string,
  where: string,
  bytes: Uint8Array,
): Promise<Outcome> {
  if (bytes.length > MAX_FILE_BYTES)
    throw new UserError(
      `${name} has ${bytes.length.toLocaleString('en')} bytes; files of at most ` +
        `${MAX_FILE_BYTES.toLocaleString('en')} are put on a volume here.`,
      413,
    );
  return changing(db, id, async (tx, open) => {
    const outcome: Outcome = { put: [], left: [] };
    const blob = await storeBlob(tx, bytes);
    const plain = sanitizeText(name).split(/[\\/]/).pop() || 'unnamed';
    const wish = await wishFor(
      tx,
      open.volume.filesystem,
      plain,
      { filesystem: null },
      {
        kind: 'put',
        source: `blob:${blob.id}`,
        bytes: bytes.length,
        from: 'the desktop',
        modified: null,
      },
    );
    const edits = await addFiles(tx, open, where, [wish], outcome);
    return { edits, result: outcome };
  });
}

export const NewRoute = z.object({ copyId: z.int().min(1), kind: z.string().max(40) });

/**
 * A way of two steps: an image as a file on a larger volume that the far machine reads, to be
 * unpacked there. Gives the assembly that carries it.
 */
export async function startRoute(
  db: Database,
  operatorId: number,
  input: z.output<typeof NewRoute>,
): Promise<{ id: number; name: string }> {
  const [row] = await db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, input.copyId));
  if (!row) throw notFound('such image');
  const { fair_copies: copy, media: medium } = row;
  await refuseQuarantined(db, copy.id, false);
  const carrier = BLANK_KINDS.find(({ id }) => id === input.kind);
  if (!carrier) throw notFound('such kind of blank volume');
  if (copy.imageBytes >= carrier.bytes)
    throw new UserError(
      `The image of ${medium.code} has ${copy.imageBytes.toLocaleString('en')} bytes, ` +
        `and ${carrier.title} has no room for it. Choose a larger volume.`,
      409,
    );
  const { id } = await startAssembly(db, operatorId, {
    title: `${medium.code} as a file, on ${carrier.title}`.slice(0, 200),
    kind: input.kind,
  });
  const outcome = await changing(db, id, async (tx, open) => {
    const outcome: Outcome = { put: [], left: [] };
    const wish = await wishFor(
      tx,
      open.volume.filesystem,
      `${medium.code.replace('-', '')}.IMG`,
      { filesystem: null },
      {
        kind: 'put',
        source: `blob:${copy.imageBlob}`,
        bytes: copy.imageBytes,
        from: `${medium.code}, its image`,
        modified: null,
      },
    );
    return { edits: await addFiles(tx, open, '', [wish], outcome), result: outcome };
  });
  const [put] = outcome.put;
  if (!put) {
    await discard(db, id);
    throw new UserError(
      `${outcome.left[0]?.why ?? 'It does not fit.'} Nothing was begun; choose a larger volume.`,
      409,
    );
  }
  return { id, name: put.path };
}

/** One step back, or forth again. */
async function step(db: Database, id: number, by: 1 | -1): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(assemblies).where(eq(assemblies.id, id)).for('update');
    if (!row) throw notFound(`assembly ${id}`);
    refuseSettled(row);
    const done = row.done + by;
    if (done < 0 || done > row.edits.length)
      throw new UserError(
        by < 0 ? 'There is nothing to undo.' : 'There is nothing to do again.',
        409,
      );
    await tx.update(assemblies).set({ done, changedAt: new Date() }).where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
  });
}

/**
 * Keeps what it has become as an image of its own, with what it was made from; what it began with
 * stays as it is.
 */
async function settleAssembly(
  db: Database,
  operatorId: number,
  id: number,
): Promise<{ code: string }> {
  return db.transaction(async (tx) => {
    await tx
      .select({ id: assemblies.id })
      .from(assemblies)
      .where(eq(assemblies.id, id))
      .for('update');
    const row = await assemblyRow(tx, id);
    refuseSettled(row);
    const { base: before, image } = await openAssembly(tx, row);
    const layout = await layoutFor(tx, row);
    const base = await codeOfCopy(tx, row.baseId);
    const [medium] = await tx
      .insert(media)
      .values({
        code: await drawCode(tx),
        form: await formFor(tx, row, layout),
        title: row.title,
        labelText: row.label,
        lender: '',
        lot: '',
        condition: '',
        registeredBy: operatorId,
      })
      .returning();
    const made =
      `${row.done} ${row.done === 1 ? 'change' : 'changes'} to ` + `${base ?? 'a blank volume'}`;
    await note(tx, {
      operatorId,
      kind: 'registered',
      mediumId: medium!.id,
      what: `${medium!.code} put together as “${row.title}”: ${made}.`,
    });
    const copyId = await storeFairCopy(tx, {
      operatorId,
      mediumId: medium!.id,
      source: 'assembly',
      sourceName: row.title,
      image,
      layout,
      inDoubt: await doubtsLeft(tx, row, before, image),
      settled: null,
      captureBlob: null,
      problems: [],
      why: `Put together by ${made}`,
    });
    await tx
      .update(assemblies)
      .set({ copyId, edits: row.edits.slice(0, row.done), changedAt: new Date() })
      .where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
    return { code: medium!.code };
  });
}

/** What was in doubt of the image it began with and stands there as it was is in doubt still. */
async function doubtsLeft(
  tx: Executor,
  { baseId }: AssemblyRow,
  before: Uint8Array,
  image: Uint8Array,
): Promise<{ offset: number; length: number }[]> {
  if (baseId === null) return [];
  const [copy] = await tx.select().from(fairCopies).where(eq(fairCopies.id, baseId));
  return (await doubtsOfCopy(tx, copy!)).filter(({ offset, length }) =>
    sameBytes(before.subarray(offset, offset + length), image.subarray(offset, offset + length)),
  );
}

async function formFor(
  tx: Executor,
  { baseId }: AssemblyRow,
  layout: string | null,
): Promise<MediumForm> {
  if (baseId !== null) {
    const [base] = await tx
      .select({ form: media.form })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, baseId));
    if (base) return base.form;
  }
  return (layout && (await findLayout(tx, layout))?.forms[0]) || '3.5';
}

async function discard(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await assemblyRow(tx, id);
    refuseSettled(row);
    await tx.delete(assemblies).where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
  });
}

export async function actOnAssembly(
  db: Database,
  operatorId: number,
  id: number,
  action: AssemblyAction,
): Promise<Outcome | { code: string } | void> {
  switch (action.do) {
    case 'add':
      return changing(db, id, async (tx, open) => {
        const outcome: Outcome = { put: [], left: [] };
        return {
          edits: await addFiles(
            tx,
            open,
            action.folder,
            (
              await wishesOf(
                tx,
                open.volume.filesystem,
                await filesToAdd(tx, action.files),
                outcome,
              )
            ).map(({ wish }) => wish),
            outcome,
          ),
          result: outcome,
        };
      });
    case 'gather':
      return changing(db, id, async (tx, open) => {
        const outcome: Outcome = { put: [], left: [] };
        return {
          edits: await gatherCopies(tx, open, action.copies, action.how, outcome),
          result: outcome,
        };
      });
    case 'edit':
      return changing(db, id, async (tx, { volume }) => {
        const { edit } = action;
        if (edit.kind === 'put')
          throw new UserError('Files are put in by their rows or as uploads.', 422);
        applyEdit(volume, edit, null);
        return { edits: [edit], result: undefined };
      });
    case 'undo':
      return step(db, id, -1);
    case 'redo':
      return step(db, id, 1);
    case 'target': {
      if (action.target !== null && !TARGET_PROFILES.some(({ id: own }) => own === action.target))
        throw notFound('such machine');
      await db.update(assemblies).set({ target: action.target }).where(eq(assemblies.id, id));
      return undefined;
    }
    case 'settle':
      return settleAssembly(db, operatorId, id);
    case 'discard':
      return discard(db, id);
  }
}

/** Of an image that was put together: what it was made from, and how. */
export async function lineageOf(db: Executor, copyIds: readonly number[]) {
  if (copyIds.length === 0) return null;
  const [row] = await db
    .select()
    .from(assemblies)
    .where(inArray(assemblies.copyId, [...copyIds]));
  return row
    ? {
        id: row.id,
        base: await codeOfCopy(db, row.baseId),
        kind: row.kind,
        changes: row.edits.map(editWords),
      }
    : null;
}

/** Images made from one that is kept. */
export async function madeFrom(db: Executor, copyIds: readonly number[]) {
  if (copyIds.length === 0) return [];
  return db
    .select({ code: media.code, title: media.title })
    .from(assemblies)
    .innerJoin(fairCopies, eq(fairCopies.id, assemblies.copyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(assemblies.baseId, [...copyIds]))
    .orderBy(media.code);
}
