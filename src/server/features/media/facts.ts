/**
 * The facts that are registered of a medium, in the order in which they are told: each as it stands
 * in a table to save, and as words of the ledger. What changes of a medium is worked out here.
 */
import { isDeepStrictEqual } from 'node:util';
import { CONDITION_MARKS, type ConditionMark } from '@/core/condition';
import { formName } from '@/core/medium-form';
import { said, type Said, type Words } from '@/core/said';
import type { z } from 'zod';
import type { MediumCorrection } from './new-medium';
import type { media } from './tables';

type Medium = typeof media.$inferSelect;
export type Correction = z.output<typeof MediumCorrection>;
/** What a medium is after a correction: its marks are all of them then. */
type Corrected = Partial<Pick<Medium, FactName>>;

/** What a person registers; the rest of a row is the house's own. */
type FactName = Exclude<
  keyof Medium,
  | 'id'
  | 'isReference'
  | 'registeredAt'
  | 'registeredBy'
  | 'jsonShape'
  | 'withdrawnAt'
  | 'withdrawnReason'
  | 'mergedIntoId'
>;

const orNull = (text: string): string | null => text || null;
const yesOrNo = (is: boolean): Words => (is ? said('media.yes') : said('media.no'));

/** How a fact is told; what is not known, or none, is null. */
const TOLD: { [F in FactName]: (value: Medium[F]) => Words | number | null } = {
  code: (code) => code,
  form: formName,
  title: (title) => title,
  ...{ labelText: orNull, lender: orNull, lot: orNull, setName: orNull },
  setNumber: (number) => number,
  condition: orNull,
  marks: (marks) =>
    marks.length === 0
      ? null
      : said('media.listOf', { items: marks.map((mark) => said(`marks.${mark}`)) }),
  treatFirst: yesOrNo,
  writeProtected: yesOrNo,
  recordedSide: (side) => said(`sides.${side}`),
  isBlank: yesOrNo,
  density: (density) => density && said('media.densityOf', { density }),
  machine: orNull,
  shelf: orNull,
  origin: (origin) => origin && said('media.originIs', { ...origin }),
};

const FACTS = Object.keys(TOLD) as FactName[];

export interface FactChange {
  fact: FactName;
  was: Words | number | null;
  now: Words | number | null;
}

function marksAfter(
  was: readonly ConditionMark[],
  marks: NonNullable<Correction['marks']>,
): ConditionMark[] {
  return CONDITION_MARKS.filter((mark) => marks[mark] ?? was.includes(mark));
}

/** In whatever order they were registered. */
const inOrder = (marks: readonly ConditionMark[]) =>
  CONDITION_MARKS.filter((mark) => marks.includes(mark));

/** What a correction makes of a medium, without what is so already. */
export function correctedBy(medium: Medium, correction: Correction): Corrected {
  const { marks, ...plain } = correction;
  const wanted: Corrected = { ...plain, ...(marks && { marks: marksAfter(medium.marks, marks) }) };
  // What belongs to no set has no place in one.
  if (correction.setName === '' && correction.setNumber === undefined) wanted.setNumber = null;
  // An original is made for nothing.
  if (correction.isBlank === false) wanted.density = null;
  const is = { ...medium, marks: inOrder(medium.marks) };
  return Object.fromEntries(
    Object.entries(wanted).filter(
      ([fact, value]) => value !== undefined && !isDeepStrictEqual(value, is[fact as FactName]),
    ),
  );
}

function toldFact<F extends FactName>(fact: F, of: Medium): Words | number | null {
  return TOLD[fact](of[fact]);
}

/** What is told of the change, in the order of the facts. */
export function changesOf(medium: Medium, corrected: Corrected): FactChange[] {
  const after = { ...medium, ...corrected };
  return FACTS.filter((fact) => fact in corrected).map((fact) => ({
    fact,
    was: toldFact(fact, medium),
    now: toldFact(fact, after),
  }));
}

/** All that is registered of it, as words of the ledger. */
export const factsSaid = (medium: Medium): Said[] =>
  FACTS.flatMap((fact) => {
    const is = toldFact(fact, medium);
    return is === null ? [] : [said('media.factIs', { fact, is: orNothing(is) })];
  });

const orNothing = (value: Words | number | null): Words =>
  value === null ? said('media.nothing') : typeof value === 'number' ? String(value) : value;

/** An entry of the ledger. */
export const correctedSaid = (code: string, changes: readonly FactChange[]): Said =>
  said('media.corrected', {
    code,
    changes: changes.map(({ fact, was, now }) =>
      said('media.wasNow', { fact, was: orNothing(was), now: orNothing(now) }),
    ),
  });
