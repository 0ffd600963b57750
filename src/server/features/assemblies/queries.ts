/** What is known of assemblies: those there are, one as it stands, and what was made of what. */
import { tell } from '@/messages/tell';
import { desc, eq, inArray, sql } from 'drizzle-orm';
import { editWords } from '@/core/assembly/edits';
import { TARGET_NAMES } from '@/messages/names';
import { checkTarget, TARGET_HEAD_BYTES, TARGET_PROFILES } from '@/core/assembly/targets';
import { assemblies } from './tables';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { assemblyRow, changesIn, openAssembly } from './assembly-volume';
import { codeOfCopy, layoutFor } from './assembly-rows';

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
    isSettling: row.settledBy !== null && row.copyId === null,
    trouble: row.trouble && tell(row.trouble),
    settledAs,
    hasFolders: volume.hasFolders,
    keeps: volume.keeps,
    room: volume.room(),
    entries: entries.map((entry) => ({
      ...entry,
      cost: entry.kind === 'file' ? volume.cost(entry.bytes, entry.type) : null,
    })),
    gone,
    done: row.edits.slice(0, row.done).map((edit) => tell(editWords(edit))),
    undone: row.edits.slice(row.done).map((edit) => tell(editWords(edit))),
    problems: problems.map(({ said }) => tell(said)),
    target: profile
      ? {
          id: profile.id,
          title: TARGET_NAMES[profile.id],
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
        changes: row.edits.map((edit) => tell(editWords(edit))),
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
