/** Lenders and machines: what is known of them, and their media, which follow their names. */
import { eq } from 'drizzle-orm';
import type { z } from 'zod';
import { said, type Words } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { refuseTaken } from '@/server/platform/db/unique-violation';
import { notFound, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { note } from '../ledger/ledger';
import { NAMED_FACTS, type NamedChange } from './new-medium';
import { lenders, lots, machines, media } from './tables';

export const NAMED_KINDS = Object.freeze(['lenders', 'machines'] as const);
export type NamedKind = (typeof NAMED_KINDS)[number];

const TABLES = { lenders, machines } as const;
const LEDGER_KIND = { lenders: 'lender', machines: 'machine' } as const;
type Fact = 'name' | (typeof NAMED_FACTS)[NamedKind][number];
type Named = { [F in Fact]?: string } & { name: string };

/** `isHeld`: nobody else changes it until the caller's transaction ends. */
export async function namedRecord(
  db: Executor,
  kind: NamedKind,
  asked: string,
  isHeld = false,
): Promise<Named> {
  const name = sanitizeText(asked);
  const table = TABLES[kind];
  const query = db.select().from(table).where(eq(table.name, name));
  const [row] = await (isHeld ? query.for('update') : query);
  if (!row) throw notFound(said('media.named', { kind, name }));
  return row;
}

/** What has its name has the new one. */
async function rename(tx: Executor, kind: NamedKind, from: string, to: string): Promise<void> {
  const table = TABLES[kind];
  await refuseTaken(
    tx.update(table).set({ name: to }).where(eq(table.name, from)),
    () =>
      new UserError(
        said('media.namedIsThere', { named: said('media.named', { kind, name: to }) }),
        409,
        'name',
      ),
  );
  if (kind === 'machines') {
    await tx.update(media).set({ machine: to }).where(eq(media.machine, from));
    return;
  }
  await tx.update(media).set({ lender: to }).where(eq(media.lender, from));
  await tx.update(lots).set({ lender: to }).where(eq(lots.lender, from));
}

const orNothing = (text: string | undefined): Words => text || said('media.nothing');

export async function changeNamed(
  db: Database,
  operatorId: number,
  kind: NamedKind,
  asked: string,
  change: z.output<typeof NamedChange>,
): Promise<void> {
  const table = TABLES[kind];
  await db.transaction(async (tx) => {
    const was = await namedRecord(tx, kind, asked, true);
    const { name } = was;
    const facts: readonly Fact[] = ['name', ...NAMED_FACTS[kind]];
    const changed = facts.filter((fact) => (change[fact] ?? was[fact]) !== was[fact]);
    if (changed.length === 0) return;
    const now = { ...was, ...Object.fromEntries(changed.map((fact) => [fact, change[fact]])) };
    if (now.name !== name) await rename(tx, kind, name, now.name);
    await tx.update(table).set(now).where(eq(table.name, now.name));
    await note(tx, {
      operatorId,
      kind: LEDGER_KIND[kind],
      what: said('media.namedCorrected', {
        named: said('media.named', { kind, name }),
        changes: changed.map((fact) =>
          said('media.ofNamedWasNow', {
            ...{ fact, was: orNothing(was[fact]), now: orNothing(now[fact]) },
          }),
        ),
      }),
    });
    await announce(tx, { kind: 'media' });
  });
}
