/** Folders opened and closed, and which are open. */
import { eq, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { fileNameOfCode } from '@/core/medium-code';
import { said } from '@/core/said';
import { UniqueNames } from '@/core/volume/unique-names';
import { config } from '@/server/platform/config';
import type { Database, Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { ownerOf } from '../media/owners';
import { operators } from '../operators/tables';
import { refuseHeld } from '../rights/holds';
import type { FolderChange } from './new-folder';
import { openFolders } from './tables';

/** Media in the root: a desktop lists no more. */
const MAX_LISTED = 5000;

/**
 * Throws UserError: 404 of what there is none of, 403 of a medium that is held. What is held of a lot
 * stays closed in it.
 */
export async function changeFolder(
  db: Database,
  operatorId: number,
  { of, isOpen }: z.output<typeof FolderChange>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const { owner, name } =
      'code' in of ? await ownerOf(tx, 'media', of.code) : await ownerOf(tx, 'lots', of.lot);
    const { mediumId, lotName } = owner;
    if (isOpen && mediumId !== null) await refuseHeld(tx, [mediumId], operatorId);
    const own =
      mediumId === null ? eq(openFolders.lotName, lotName!) : eq(openFolders.mediumId, mediumId);
    const changed = isOpen
      ? await tx
          .insert(openFolders)
          .values({ mediumId, lotName, openedBy: operatorId })
          .onConflictDoNothing()
          .returning()
      : await tx.delete(openFolders).where(own).returning();
    if (changed.length === 0) return;
    await note(tx, {
      ...{ operatorId, mediumId, kind: isOpen ? 'folder-opened' : 'folder-closed' },
      what: isOpen ? said('folders.opened', { name }) : said('folders.closed', { name }),
    });
    await announce(tx, { kind: 'media' });
  });
}

export interface OpenMedium {
  id: number;
  code: string;
  openedBy: number;
  openedAt: Date;
}

/** Media that can be read, each with who opened it: by itself, or by its lot. */
async function openMedia(db: Executor): Promise<OpenMedium[]> {
  const { rows } = await db.execute<OpenMedium & Record<string, unknown>>(sql`
    select distinct on (m.code) m.id, m.code, o.opened_by as "openedBy", o.opened_at as "openedAt"
    from open_folders o
    join media m on m.id = o.medium_id or (m.lot <> '' and m.lot = o.lot_name)
    where m.withdrawn_at is null and not m.is_blank
    order by m.code, o.id limit ${MAX_LISTED}`);
  return rows.map((row) => ({ ...row, openedAt: new Date(row.openedAt) }));
}

/** By the names that their folders have. */
export async function foldersByName(db: Executor): Promise<Map<string, OpenMedium>> {
  const names = new UniqueNames();
  return new Map(
    (await openMedia(db)).map((each) => [names.folderOf(fileNameOfCode(each.code)), each]),
  );
}

const addressOf = (folder = ''): string =>
  `http://127.0.0.1:${config().SPINDLE_FOLDERS_PORT}/${folder && `${encodeURIComponent(folder)}/`}`;

/** Where a medium is read as a folder, since when and by whose hand; null where it is not. */
export async function folderOfMedium(db: Executor, mediumId: number) {
  const [isAny] = await db.select({ id: openFolders.id }).from(openFolders).limit(1);
  if (!isAny) return null;
  const open = [...(await foldersByName(db))].find(([, { id }]) => id === mediumId);
  if (!open) return null;
  const [folder, { openedBy, openedAt }] = open;
  const [who] = await db.select().from(operators).where(eq(operators.id, openedBy));
  const [own] = await db.select().from(openFolders).where(eq(openFolders.mediumId, mediumId));
  return { address: addressOf(folder), who: who!.name, openedAt, isOfLot: !own };
}

/** The same of a lot: the address is of all that is open. */
export async function folderOfLot(db: Executor, lot: string) {
  const [open] = await db
    .select({ who: operators.name, openedAt: openFolders.openedAt })
    .from(openFolders)
    .innerJoin(operators, eq(operators.id, openFolders.openedBy))
    .where(eq(openFolders.lotName, lot));
  return open ? { address: addressOf(), ...open, isOfLot: true } : null;
}
