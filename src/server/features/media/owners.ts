/** Whom papers are of, and what is said: one medium, a whole set or a whole lot, by their names. */
import { eq } from 'drizzle-orm';
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
