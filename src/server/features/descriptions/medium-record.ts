/** What is registered and said of a medium, as it stands beside what leaves the house. */
import type { MediumRecord } from '@/core/description/medium-record';
import { termOf } from '@/core/description/elements';
import type { Executor } from '@/server/platform/db/database';
import type { media } from '../media/tables';
import { rightsOfMedium } from '../rights/rights';
import { descriptionOfMedium } from './descriptions';

type Medium = typeof media.$inferSelect;

export async function mediumRecord(db: Executor, medium: Medium): Promise<MediumRecord> {
  const { elements, acquisition } = await descriptionOfMedium(db, medium);
  const { statement } = await rightsOfMedium(db, medium);
  const { code, form, title, labelText, lender, lot, machine } = medium;
  return {
    ...{ code, form, title, lender, lot },
    ...(machine && { machine }),
    ...(statement && { rights: { statement: statement.statement, words: statement.words } }),
    sticker: labelText,
    set: medium.setName,
    place: medium.setNumber,
    elements: Object.fromEntries(elements.map(({ element, values }) => [element, values])),
    acquisition: acquisition && withoutPaper(acquisition.value),
  };
}

type Acquired = NonNullable<MediumRecord['acquisition']>;

/** The agreement is a paper of the house's own, by a number that says nothing elsewhere. */
const withoutPaper = ({ from, on, how, notes }: Acquired): Acquired => ({ from, on, how, notes });

/** The same as a few lines of text: a term of Dublin Core and what it says. */
export function recordAsText({ sticker, elements, rights }: MediumRecord): string {
  const said = Object.entries(elements).flatMap(([element, values]) =>
    values.map((value) => `${termOf(element as keyof typeof elements)}: ${value}`),
  );
  const may = [rights?.statement, rights?.words]
    .filter(Boolean)
    .map((text) => `dc:rights: ${text}`);
  return [...(sticker ? [sticker] : []), ...said, ...may].join('\n');
}
