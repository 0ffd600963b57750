/** The migrations that rows of a store are of: one that is newer reads them through these. */
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { config } from '@/server/platform/config';
import type { DraftVersion } from './draft-version';

/** As the migrations' own journal has it. */
export const MIGRATIONS_FILE = 'rows/migrations.json';

export async function addMigrations(draft: DraftVersion): Promise<void> {
  const journal = join(config().SPINDLE_MIGRATIONS, 'meta', '_journal.json');
  await draft.addText(MIGRATIONS_FILE, await readFile(journal, 'utf8'));
}
