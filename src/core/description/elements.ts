/**
 * What is said of a medium, of a set or of a lot beside its title: the elements of Dublin Core
 * (ISO 15836-1) with two of its terms (ISO 15836-2), and notes of the house's own. Each has any
 * number of values.
 */
import { isDcmiType } from './dcmi-types';
import { isExtendedDate } from './extended-date';
import { isLanguageTag } from './language-tag';

interface ElementRule {
  /** The term of Dublin Core that it is. */
  term: `dc:${string}` | `dcterms:${string}`;
  /** Left out, any words will do. */
  holds?: (value: string) => boolean;
  /** What is true of a whole is not true of its parts: a box of eleven disks is no disk. */
  isOfItself?: true;
}

const RULES = Object.freeze({
  description: { term: 'dc:description', isOfItself: true },
  alternative: { term: 'dcterms:alternative', isOfItself: true },
  creator: { term: 'dc:creator' },
  contributor: { term: 'dc:contributor' },
  publisher: { term: 'dc:publisher' },
  date: { term: 'dc:date', holds: isExtendedDate },
  language: { term: 'dc:language', holds: isLanguageTag },
  subject: { term: 'dc:subject' },
  coverage: { term: 'dc:coverage' },
  type: { term: 'dc:type', holds: isDcmiType },
  extent: { term: 'dcterms:extent', isOfItself: true },
  source: { term: 'dc:source' },
  relation: { term: 'dc:relation' },
  identifier: { term: 'dc:identifier', isOfItself: true },
  notes: { term: 'dc:description', isOfItself: true },
} as const satisfies Record<string, ElementRule>);

export type ElementName = keyof typeof RULES;
export const ELEMENTS = Object.freeze(Object.keys(RULES)) as readonly ElementName[];

/** Values of each element that is said; never an empty list. */
export type Elements = Partial<Record<ElementName, string[]>>;

/** Values of one element, and characters of one value. */
export const MAX_VALUES = 60;
export const MAX_VALUE_CHARS = 4000;

export const termOf = (element: ElementName): ElementRule['term'] => RULES[element].term;

/** Whether what is said of a set or of a lot counts for its media too. */
export function isInherited(element: ElementName): boolean {
  const { isOfItself }: ElementRule = RULES[element];
  return !isOfItself;
}

export function holdsValue(element: ElementName, value: string): boolean {
  const { holds }: ElementRule = RULES[element];
  return holds?.(value) ?? true;
}
