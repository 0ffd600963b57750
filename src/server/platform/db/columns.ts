/** Column types that several tables have: bytes, words of a text, moments, the shape of JSON. */
import { sql, type AnyColumn } from 'drizzle-orm';
import { customType, smallint, timestamp } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (bytes) => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length),
  fromDriver: (buffer) => new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length),
});

/** Words of a text, as its full-text index keeps them. */
export const tsvector = customType<{ data: string }>({ dataType: () => 'tsvector' });

export const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

/**
 * Of which shape the JSON in a row is. A migration that changes what a JSON column of the table holds
 * carries the older rows over and raises the default (`CONTRIBUTING.md`).
 */
export const jsonShape = (shape = 1) => smallint().notNull().default(shape);

/** The condition of a CHECK that a column holds one of these words; null passes, as in SQL. */
export const oneOf = (column: AnyColumn, words: readonly string[]) =>
  sql`${column} in (${sql.raw(words.map((word) => `'${word}'`).join(', '))})`;
