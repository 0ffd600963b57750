/** Files put on an assembly: found, named so that they fit, and told of where they do not. */
import { tell, tellIfAny } from '@/messages/tell';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import { applyEdit, Edit, type PutEdit } from '@/core/assembly/edits';
import { fitFiles, gather } from '@/core/assembly/fitting';
import { kindOnTarget, type FileFrom } from '@/core/assembly/file-types';
import { VolumeRefusal } from '@/core/volume/writable';
import type { Executor } from '@/server/platform/db/database';
import { findings } from '../signatures/tables';
import { fairCopies, files, volumes } from '../copies/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { bytesToPut, doubtOf, filesWhere, whyNotPut, type FileRow } from './assembly-sources';
import { entriesIn, type OpenAssembly } from './assembly-volume';
import { said, type Said } from '@/core/said';

/** What became of files that were to be put: under another name, or not at all, and why. */
export interface Outcome {
  put: { path: string; was: string; renamed: string | null; doubt: string | null }[];
  left: { name: string; why: string }[];
}

/** A file that is to be put, as what it becomes there, under the name that it had. */
interface Wish {
  name: string;
  edit: Omit<PutEdit, 'path'>;
  /** What is not sound of it. */ doubt: string | null;
}

export async function wishFor(
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
  wishes: readonly (Wish & { path: string; renamed: Said | null; fits: boolean; cost: number })[],
  outcome: Outcome,
): Promise<PutEdit[]> {
  const edits: PutEdit[] = [];
  const { unit } = volume.room();
  for (const { edit, name, doubt, path, renamed, fits, cost } of wishes) {
    if (!fits) {
      outcome.left.push({
        name,
        why: tell(said('assemblies.itNeedsSAnd', { cost, unit })),
      });
      continue;
    }
    const put: PutEdit = { ...edit, path };
    try {
      applyEdit(volume, put, await bytesToPut(db, edit));
      edits.push(put);
      outcome.put.push({ path, was: name, renamed: tellIfAny(renamed), doubt });
    } catch (error) {
      if (!(error instanceof VolumeRefusal)) throw error;
      outcome.left.push({ name, why: tell(error.said) });
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
export async function addFiles(
  db: Executor,
  open: OpenAssembly,
  where: string,
  wishes: readonly Wish[],
  outcome: Outcome,
): Promise<Edit[]> {
  const entries = await entriesIn(open);
  if (where !== '' && !entries.some(({ path, kind }) => path === where && kind === 'directory'))
    throw new UserError(said('assemblies.thereIsNoFolder', { where }), 409);
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
export async function wishesOf(
  db: Executor,
  filesystem: string,
  rows: readonly FileRow[],
  outcome: Outcome,
): Promise<{ id: number; code: string; wish: Wish }[]> {
  const held = await quarantinedAmong(rows, db);
  const wishes = [];
  for (const row of rows) {
    const {
      files: file,
      volumes: volume,
      media: { code },
      fair_copies: copy,
    } = row;
    const name = file.path.split('/').pop()!;
    const why = held.has(copy.id) ? said('assemblies.isInQuarantine', { code }) : whyNotPut(row);
    if (why) {
      outcome.left.push({ name: `${name} of ${code}`, why: tell(why) });
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

async function quarantinedAmong(rows: readonly FileRow[], db: Executor) {
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
  return held;
}

export async function filesToAdd(db: Executor, ids: readonly number[]): Promise<FileRow[]> {
  const found = new Map(
    (await filesWhere(db, inArray(files.id, [...ids]))).map((row) => [row.files.id, row]),
  );
  // In the order they were chosen in, and as often.
  return ids.map((id) => {
    const row = found.get(id);
    if (!row) throw notFound(said('assemblies.oneOfTheseFiles'));
    return row;
  });
}

export async function gatherCopies(
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
  const taken = inFolder(await entriesIn(open), '');
  const titles = [...new Set(wishes.map(({ code }) => code))];
  const gathered = gatheredBy(open, taken, titles, wishes, how);
  const edits: Edit[] = gathered.folders.map((path): Edit => ({ kind: 'folder', path }));
  for (const edit of edits) applyEdit(open.volume, edit, null);
  for (const { title, name } of gathered.left)
    outcome.left.push({ name: `${name} of ${title}`, why: tell(said('assemblies.itFindsNoRoom')) });
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

function gatheredBy(
  open: OpenAssembly,
  taken: Set<string>,
  titles: readonly string[],
  wishes: readonly { id: number; code: string; wish: Wish }[],
  how: 'folders' | 'prefixes',
) {
  return gather(
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
}
