/** What is registered and said of a medium, a set or a lot, as a record of Dublin Core to take away. */
import { formName } from '@/core/medium-form';
import { dublinCore, type DescribedThing } from '@/core/description/dublin-core';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { downloadBytes } from '@/server/platform/http/respond';
import { mediumByCode } from '../media/media';
import type { OwnerKind } from '../media/owners';
import type { media } from '../media/tables';
import { rightsOf } from '../rights/rights';
import { descriptionOf } from './descriptions';
import { mediumRecord } from './medium-record';

/** Of a medium, as it is told where its files go. */
export async function thingOfMedium(
  db: Executor,
  medium: typeof media.$inferSelect,
): Promise<DescribedThing> {
  const { code, title, sticker, set, lot, elements, rights } = await mediumRecord(db, medium);
  return {
    ...{ title, sticker, elements },
    rights: rights ? [rights.statement, rights.words] : [],
    identifiers: [code],
    partOf: [set, lot],
    formats: [tell(formName(medium.form))],
  };
}

async function thingOf(db: Executor, kind: OwnerKind, asked: string): Promise<DescribedThing> {
  if (kind === 'media') return thingOfMedium(db, await mediumByCode(db, asked));
  const { own } = await descriptionOf(db, kind, asked);
  const { statement } = await rightsOf(db, kind, asked);
  const name = sanitizeText(asked);
  return {
    ...{ title: name, identifiers: [name], partOf: [], formats: [], sticker: '' },
    rights: statement ? [statement.statement, statement.words] : [],
    elements: own.elements,
  };
}

/** Throws UserError, 404, where there is none of that name. */
export async function dublinCoreRecord(
  db: Executor,
  kind: OwnerKind,
  asked: string,
): Promise<Response> {
  const thing = await thingOf(db, kind, asked);
  const bytes = new TextEncoder().encode(dublinCore(thing));
  const name = `${thing.identifiers[0]!.replaceAll(/[/\\]/g, '-')}.dc.xml`;
  return downloadBytes(bytes, name, 'application/xml; charset=utf-8');
}
