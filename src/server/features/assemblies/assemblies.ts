/**
 * Assemblies: a volume made or changed step by step, undone and done again, and settled as an image
 * of its own.
 */
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { applyEdit, Edit } from '@/core/assembly/edits';
import { TARGET_PROFILES } from '@/core/assembly/targets';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { assemblies } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { MAX_FILE_BYTES } from './assembly-sources';
import { uploadFor } from './sound-uploads';
import {
  assemblyRow,
  openAssembly,
  refusing,
  type AssemblyRow,
  type OpenAssembly,
} from './assembly-volume';
import {
  type Outcome,
  wishFor,
  addFiles,
  wishesOf,
  filesToAdd,
  gatherCopies,
} from './gather-files';
import { askToSettle } from './settle-assembly';
import { isUnchanged, lockAssembly, refuseSettled } from './assembly-rows';
import { said } from '@/core/said';
import { say } from '@/messages';
import { WritableVolume } from '@/core/volume/writable';

/** Edits of one assembly; each look makes all of them again. */
const MAX_EDITS = 5000;

const folder = z.string().max(1000).default('');

export const NewAssembly = z
  .object({
    title: z.string().trim().min(1, say.forms.sayWhatItIs).max(200).transform(sanitizeText),
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
        message: say.forms.chooseAKindOf,
      });
    if (blank && [...label].length > blank.mostLabel)
      context.addIssue({
        code: 'custom',
        path: ['label'],
        message: say.forms.atMost({ mostLabel: blank.mostLabel }),
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

export async function startAssembly(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewAssembly>,
): Promise<{ id: number }> {
  const { title, kind, label, baseId } = NewAssembly.parse(input);
  // What can't be opened for writing is told now, not at the first file.
  const { volume } = await openAssembly(db, {
    kind: baseId === null ? kind : null,
    label,
    baseId,
    edits: [],
    done: 0,
  });
  const target = targetFor(baseId, volume, kind);
  return db.transaction(async (tx) => {
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

/** Tries of a change whose assembly another one changed meanwhile. */
const TRIES = 5;

function targetFor(baseId: number | null, volume: WritableVolume, kind: string | null) {
  return baseId === null
    ? TARGET_PROFILES.find(
        ({ layouts, filesystems }) =>
          filesystems.includes(volume.filesystem) &&
          layouts.includes(BLANK_KINDS.find(({ id }) => id === kind)?.layout ?? ''),
      )
    : null;
}

/**
 * Changes an assembly; what `work` gives is done behind what is done already. Its volume is made
 * and changed without a lock: where it has changed meanwhile, all of it is done once more.
 */
export function changing<T>(
  db: Database,
  id: number,
  work: (open: OpenAssembly, row: AssemblyRow) => Promise<{ edits: Edit[]; result: T }>,
): Promise<T> {
  // Those of this process wait for each other, so that none of them works in vain.
  const before = changes.get(id) ?? Promise.resolve();
  const turn = before.catch(() => undefined).then(() => tryToChange(db, id, work));
  changes.set(id, turn);
  const end = () => {
    if (changes.get(id) === turn) changes.delete(id);
  };
  turn.then(end, end);
  return turn;
}

const changes = new Map<number, Promise<unknown>>();

async function tryToChange<T>(
  db: Database,
  id: number,
  work: (open: OpenAssembly, row: AssemblyRow) => Promise<{ edits: Edit[]; result: T }>,
): Promise<T> {
  for (let left = TRIES; left > 0; left--) {
    const row = await assemblyRow(db, id);
    refuseSettled(row);
    const { edits, result } = await refusing(async () => work(await openAssembly(db, row), row));
    if (row.done + edits.length > MAX_EDITS)
      throw new UserError(said('assemblies.anAssemblyTakesChanges', { maxEdits: MAX_EDITS }), 409);
    if (await db.transaction((tx) => addEdits(tx, row, edits))) return result;
  }
  throw new UserError(said('assemblies.thisAssemblyIsBeing'), 409);
}

/** False where the assembly is no longer as it was when the edits were worked out. */
async function addEdits(tx: Executor, row: AssemblyRow, edits: readonly Edit[]): Promise<boolean> {
  if (!(await isUnchanged(tx, row))) return false;
  if (edits.length > 0)
    await tx
      .update(assemblies)
      .set({
        edits: [...row.edits.slice(0, row.done), ...edits],
        done: row.done + edits.length,
        trouble: null,
        changedAt: new Date(),
      })
      .where(eq(assemblies.id, row.id));
  await announce(tx, { kind: 'assemblies' });
  return true;
}

/** Puts a file from the desktop into a folder. */
export async function addUpload(
  db: Database,
  id: number,
  name: string,
  where: string,
  bytes: Uint8Array,
): Promise<Outcome> {
  if (bytes.length > MAX_FILE_BYTES)
    throw new UserError(
      said('assemblies.hasBytesFilesOf', {
        name,
        bytes: bytes.length,
        maxFileBytes: MAX_FILE_BYTES,
      }),
      413,
    );
  const plain = sanitizeText(name).split(/[\\/]/).pop() || 'unnamed';
  return changing(db, id, async (open) => {
    const outcome: Outcome = { put: [], left: [] };
    const { file, remarks } = await uploadFor(open.volume, plain, bytes, where);
    const blob = await db.transaction((tx) => storeBlob(tx, file));
    const wish = await wishFor(
      db,
      open.volume.filesystem,
      plain,
      { filesystem: null },
      {
        kind: 'put',
        source: `blob:${blob.id}`,
        bytes: file.length,
        from: said('assemblies.theDesktop'),
        modified: null,
      },
    );
    const edits = await addFiles(db, open, where, [{ ...wish, doubt: remarks }], outcome);
    return { edits, result: outcome };
  });
}

/** One step back, or forth again. */
async function step(db: Database, id: number, by: 1 | -1): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await lockAssembly(tx, id);
    refuseSettled(row);
    const done = row.done + by;
    if (done < 0 || done > row.edits.length)
      throw new UserError(said('assemblies.thereIsNothingTo', { by }), 409);
    await tx
      .update(assemblies)
      .set({ done, trouble: null, changedAt: new Date() })
      .where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
  });
}

export async function discard(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    refuseSettled(await lockAssembly(tx, id));
    await tx.delete(assemblies).where(eq(assemblies.id, id));
    await announce(tx, { kind: 'assemblies' });
  });
}

export async function actOnAssembly(
  db: Database,
  operatorId: number,
  id: number,
  action: AssemblyAction,
): Promise<Outcome | void> {
  switch (action.do) {
    case 'add':
      return changing(db, id, async (open) => {
        const outcome: Outcome = { put: [], left: [] };
        return {
          edits: await addFiles(
            db,
            open,
            action.folder,
            (
              await wishesOf(
                db,
                open.volume.filesystem,
                await filesToAdd(db, action.files),
                outcome,
              )
            ).map(({ wish }) => wish),
            outcome,
          ),
          result: outcome,
        };
      });
    case 'gather':
      return changing(db, id, async (open) => {
        const outcome: Outcome = { put: [], left: [] };
        return {
          edits: await gatherCopies(db, open, action.copies, action.how, outcome),
          result: outcome,
        };
      });
    case 'edit':
      return changing(db, id, async ({ volume }) => {
        const { edit } = action;
        if (edit.kind === 'put') throw new UserError(said('assemblies.filesArePutIn'), 422);
        applyEdit(volume, edit, null);
        return { edits: [edit], result: undefined };
      });
    case 'undo':
      return step(db, id, -1);
    case 'redo':
      return step(db, id, 1);
    case 'target': {
      if (action.target !== null && !TARGET_PROFILES.some(({ id: own }) => own === action.target))
        throw notFound(said('platform.suchMachine'));
      await db.update(assemblies).set({ target: action.target }).where(eq(assemblies.id, id));
      return undefined;
    }
    case 'settle':
      return askToSettle(db, operatorId, id);
    case 'discard':
      return discard(db, id);
  }
}
