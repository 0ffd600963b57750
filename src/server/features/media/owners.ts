/** Whom papers are of, and what is said: one medium, a whole set or a whole lot, by their names. */
import { and, eq, or, type AnyColumn, type SQL } from 'drizzle-orm';
import type { Level } from '@/core/description/inherited';
import { said, type Words } from '@/core/said';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { notFound } from '@/server/platform/errors';
import { heldMedium } from './media';
import { lots, sets } from './tables';

export const OWNER_KINDS = Object.freeze(['media', 'sets', 'lots'] as const);
export type OwnerKind = (typeof OWNER_KINDS)[number];

/** As a row holds it; two of the three are null. */
export interface Owner {
  mediumId: number | null;
  setName: string | null;
  lotName: string | null;
}
const NOBODY: Owner = { mediumId: null, setName: null, lotName: null };

interface NamedOwner {
  owner: Owner;
  /** As the ledger calls it. */
  name: Words;
}

/** Throws UserError, 404, where there is none of that name. */
export async function ownerOf(db: Executor, kind: OwnerKind, asked: string): Promise<NamedOwner> {
  if (kind === 'media') {
    const { id, code } = await heldMedium(db, asked);
    return { owner: { ...NOBODY, mediumId: id }, name: code };
  }
  const name = sanitizeText(asked);
  const [table, words] =
    kind === 'sets' ? [sets, said('media.set2', { name })] : [lots, said('media.lot', { name })];
  const [there] = await db.select({ name: table.name }).from(table).where(eq(table.name, name));
  if (!there) throw notFound(words);
  const owner = { ...NOBODY, [kind === 'sets' ? 'setName' : 'lotName']: name };
  return { owner, name: words };
}

/** Under which kind the ledger has what changes of one. */
export const LEDGER_KIND = { media: 'described', sets: 'set', lots: 'lot' } as const;

/** Which level of inheritance each is. */
export const LEVEL_OF = { media: 'medium', sets: 'set', lots: 'lot' } as const;

/** The same of a row. */
export const levelOf = ({ mediumId, setName }: Owner): Level =>
  mediumId !== null ? 'medium' : setName !== null ? 'set' : 'lot';

/** Rows of a table that are of one owner. */
export const isOf = (table: Record<keyof Owner, AnyColumn>, owner: Owner): SQL =>
  and(
    owner.mediumId === null ? undefined : eq(table.mediumId, owner.mediumId),
    owner.setName === null ? undefined : eq(table.setName, owner.setName),
    owner.lotName === null ? undefined : eq(table.lotName, owner.lotName),
  )!;

interface Belonging {
  id: number;
  setName: string;
  lot: string;
}

/** Rows of a table that count for a medium: its own, its set's and its lot's. */
export const countsFor = (
  table: Record<keyof Owner, AnyColumn>,
  { id, setName, lot }: Belonging,
): SQL =>
  or(
    eq(table.mediumId, id),
    setName ? eq(table.setName, setName) : undefined,
    lot ? eq(table.lotName, lot) : undefined,
  )!;
