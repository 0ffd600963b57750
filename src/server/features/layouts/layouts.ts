/** Layouts: those that ship and those that archivists added, imported and exported as JSON. */
import { tell } from '@/messages/tell';
import { asc, eq } from 'drizzle-orm';
import { kindsOf } from '@/core/image/kinds';
import { bytesOf, describeLayout, sectorCount, type Layout } from '@/core/layout/layout';
import { layoutJson } from '@/core/layout/layout-json';
import { parseLayout } from '@/core/layout/schema';
import { SHIPPED_LAYOUTS, shippedLayout } from '@/core/layout/shipped';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { layouts } from './tables';
import { media } from '../media/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { said } from '@/core/said';

/** Every layout that captures are held against. */
export async function allLayouts(db: Executor): Promise<Layout[]> {
  const own = await db.select().from(layouts).orderBy(asc(layouts.id));
  return [...SHIPPED_LAYOUTS, ...own.flatMap(({ file }) => parseLayout(file).layout ?? [])];
}

export async function findLayout(db: Executor, id: string): Promise<Layout | null> {
  const shipped = shippedLayout(id);
  if (shipped) return shipped;
  const [row] = await db.select().from(layouts).where(eq(layouts.id, id));
  return row ? parseLayout(row.file).layout : null;
}

/** The layout that a fair copy follows: a known one, or the one worked out from its capture. */
export async function layoutOfCopy(
  db: Executor,
  { layout, proposal }: Pick<typeof fairCopies.$inferSelect, 'layout' | 'proposal'>,
): Promise<Layout | null> {
  return proposal ?? (layout ? findLayout(db, layout) : null);
}

/** A layout as it is exported, or null. */
export async function layoutFile(
  db: Executor,
  id: string,
): Promise<Record<string, unknown> | null> {
  const layout = await findLayout(db, sanitizeText(id));
  return layout && layoutJson(layout);
}

export async function listLayouts(db: Executor) {
  const own = new Set((await db.select({ id: layouts.id }).from(layouts)).map(({ id }) => id));
  return (await allLayouts(db)).map((layout) => ({
    id: layout.id,
    title: layout.title ?? '',
    describes: tell(describeLayout(layout)),
    bytes: bytesOf(layout),
    sectors: sectorCount(layout),
    forms: layout.forms,
    kinds: kindsOf(layout),
    ships: !own.has(layout.id),
  }));
}
export type LayoutView = Awaited<ReturnType<typeof listLayouts>>[number];

/**
 * Adds a layout from its JSON; everything that is wrong with it comes back in one sentence each.
 */
export function addLayout(db: Database, operatorId: number, json: unknown): Promise<Layout> {
  return db.transaction((tx) => addLayoutIn(tx, operatorId, json));
}

/** The same in the caller's transaction. */
export async function addLayoutIn(
  tx: Executor,
  operatorId: number,
  json: unknown,
): Promise<Layout> {
  const parsed = parseLayout(json);
  if (!parsed.layout)
    throw new UserError(
      said('layouts.thisIsNoUsable', {
        problems: parsed.problems.map((problem) => `${problem}.`).join(' '),
      }),
      422,
      'file',
    );
  const { layout } = parsed;
  if (await findLayout(tx, layout.id))
    throw new UserError(said('layouts.thereIsALayout', { id: layout.id }), 409, 'file');
  await tx.insert(layouts).values({ id: layout.id, file: layoutJson(layout), addedBy: operatorId });
  await note(tx, {
    operatorId,
    kind: 'layout-added',
    what: said('layouts.layoutAdded', { id: layout.id, layout: describeLayout(layout) }),
  });
  await announce(tx, { kind: 'layouts' });
  return layout;
}

export async function removeLayout(db: Database, operatorId: number, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    if (shippedLayout(id))
      throw new UserError(said('layouts.shipsWithTheApplication', { id }), 409);
    const [used] = await tx
      .select({ code: media.code })
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.layout, id))
      .limit(1);
    if (used) throw new UserError(said('layouts.isTheLayoutOf', { id, code: used.code }), 409);
    const gone = await tx.delete(layouts).where(eq(layouts.id, id)).returning({ id: layouts.id });
    if (gone.length === 0) throw notFound(said('layouts.layout', { id }));
    await note(tx, {
      operatorId,
      kind: 'layout-removed',
      what: said('layouts.layoutRemoved', { id }),
    });
    await announce(tx, { kind: 'layouts' });
  });
}
