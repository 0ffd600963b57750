/** The migrations that rows of an object are of: what is newer reads them through these. */
import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { config } from '@/server/platform/config';

export const MIGRATIONS_FILE = 'rows/migrations.json';

const Journal = z.looseObject({ entries: z.array(z.looseObject({ tag: z.string() })) });
type Journal = z.output<typeof Journal>;

/** Of a folder of migrations. */
export async function journalIn(folder: string): Promise<Journal> {
  const text = await readFile(join(folder, 'meta', '_journal.json'), 'utf8');
  return Journal.parse(JSON.parse(text));
}

/** What an object says of the newest that its rows know. */
export const StoredMigrations = z.object({ newest: z.string() });

/** The same of today's, with its digest. */
export async function migrationsToday(): Promise<{ text: string; sha256: string }> {
  const { entries } = await journalIn(config().SPINDLE_MIGRATIONS);
  const text = `${JSON.stringify({ newest: entries.at(-1)!.tag })}\n`;
  return { text, sha256: createHash('sha256').update(text).digest('hex') };
}
