/** Signature rules, and what they met. */
import { bigint, index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { SignatureRule } from '@/core/scan/rules';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { fairCopies } from '../copies/tables';
import { operators } from '../operators/tables';

/** Signature rules that archivists added; images are held against them as they are taken in. */
export const signatureRules = pgTable('signature_rules', {
  id: text().primaryKey(),
  rule: jsonb().$type<SignatureRule>().notNull(),
  addedBy: integer()
    .notNull()
    .references(() => operators.id),
  addedAt: moment('added_at').notNull().defaultNow(),
  jsonShape: jsonShape(),
});

/** Where a rule met an image. */
export const findings = pgTable(
  'findings',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    rule: text().notNull(),
    name: text().notNull(),
    note: text().notNull(),
    path: text(),
    offset: bigint({ mode: 'number' }).notNull(),
  },
  (table) => [index().on(table.fairCopyId)],
);
