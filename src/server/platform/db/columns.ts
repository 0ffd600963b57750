/** Column types that the mapper does not bring: bytes, words of a text, moments. */
import { sql, type AnyColumn } from 'drizzle-orm';
import { customType, timestamp } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (bytes) => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length),
  fromDriver: (buffer) => new Uint8Array(buffer.buffer, buffer.byteOffset, buffer.length),
});

/** Words of a text, as its full-text index keeps them. */
export const tsvector = customType<{ data: string }>({ dataType: () => 'tsvector' });

export const moment = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

/** The condition of a CHECK that a column holds one of these words; null passes, as in SQL. */
export const oneOf = (column: AnyColumn, words: readonly string[]) =>
  sql`${column} in (${sql.raw(words.map((word) => `'${word}'`).join(', '))})`;
