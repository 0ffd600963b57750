/** A column for what is said: a code with parameters, or words from before there were codes. */
import { customType } from 'drizzle-orm/pg-core';
import type { Said } from '@/core/said';
import { sanitizeText } from './sanitize-text';

/** The same as PostgreSQL can hold it: parameters may be names from media and files. */
export const storableSaid = (said: Said): Said =>
  JSON.parse(JSON.stringify(said), (_, value: unknown) =>
    typeof value === 'string' ? sanitizeText(value) : value,
  ) as Said;

export const saidColumn = customType<{ data: Said; driverData: string }>({
  dataType: () => 'jsonb',
  toDriver: (said) => JSON.stringify(storableSaid(said)),
});
