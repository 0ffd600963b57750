/**
 * What may be done with something: a statement of rights, and what keeps it in the house for now.
 * A statement is a URI of a public vocabulary, or words. What restricts a whole restricts its parts:
 * a medium is as restricted as its set, its lot and itself together.
 */
import { LEVELS, type Level } from './inherited';

/** Statements of public vocabularies that are offered; any other URI will do as well. */
export const RIGHTS_STATEMENTS = Object.freeze([
  'http://rightsstatements.org/vocab/InC/1.0/',
  'http://rightsstatements.org/vocab/InC-OW-EU/1.0/',
  'http://rightsstatements.org/vocab/InC-EDU/1.0/',
  'http://rightsstatements.org/vocab/InC-NC/1.0/',
  'http://rightsstatements.org/vocab/InC-RUU/1.0/',
  'http://rightsstatements.org/vocab/NoC-CR/1.0/',
  'http://rightsstatements.org/vocab/NoC-NC/1.0/',
  'http://rightsstatements.org/vocab/NoC-OKLR/1.0/',
  'http://rightsstatements.org/vocab/NoC-US/1.0/',
  'http://rightsstatements.org/vocab/CNE/1.0/',
  'http://rightsstatements.org/vocab/UND/1.0/',
  'http://rightsstatements.org/vocab/NKC/1.0/',
  'https://creativecommons.org/publicdomain/mark/1.0/',
  'https://creativecommons.org/publicdomain/zero/1.0/',
  'https://creativecommons.org/licenses/by/4.0/',
  'https://creativecommons.org/licenses/by-sa/4.0/',
  'https://creativecommons.org/licenses/by-nd/4.0/',
  'https://creativecommons.org/licenses/by-nc/4.0/',
  'https://creativecommons.org/licenses/by-nc-sa/4.0/',
  'https://creativecommons.org/licenses/by-nc-nd/4.0/',
] as const);
export type RightsStatement = (typeof RIGHTS_STATEMENTS)[number];

export interface Restriction {
  reason: string;
  /** The day from which on it restricts no more, `2041-01-01`; empty where nobody said one. */
  opensOn: string;
}

export interface Rights {
  /** A URI; empty where only words say it, or nothing does. */
  statement: string;
  words: string;
  restriction: Restriction | null;
  /** It holds what is personal of somebody: restricted until somebody says that it is not. */
  isPersonal: boolean;
}

export const NO_RIGHTS_SAID: Rights = Object.freeze({
  ...{ statement: '', words: '', restriction: null, isPersonal: false },
});

/** Nothing of them is said. */
export const isWithoutRights = (rights: Rights): boolean =>
  rights.statement === '' &&
  rights.words === '' &&
  rights.restriction === null &&
  !rights.isPersonal;

/** What is said at each level; null where nothing is. */
export type RightsOfLevels = Partial<Record<Level, Rights | null>>;

/** What keeps something in the house on a day, and where that is said. */
export interface Hold extends Restriction {
  from: Level;
  isPersonal: boolean;
}

/** Of one level, on a day (`2026-11-30`). */
function holdsOfLevel(from: Level, rights: Rights, day: string): Hold[] {
  const { restriction, isPersonal } = rights;
  const isClosed =
    restriction !== null && (restriction.opensOn === '' || day < restriction.opensOn);
  return [
    ...(isClosed ? [{ ...restriction, from, isPersonal: false }] : []),
    ...(isPersonal ? [{ reason: '', opensOn: '', from, isPersonal }] : []),
  ];
}

/** All that holds on a day, the nearest first; nothing of what has opened. */
export const holdsOn = (levels: RightsOfLevels, day: string): Hold[] =>
  LEVELS.flatMap((from) => (levels[from] ? holdsOfLevel(from, levels[from], day) : []));

interface Stated {
  statement: string;
  words: string;
  from: Level;
}

/** The statement that counts: as a whole, of the nearest level that makes one. */
export function statementOf(levels: RightsOfLevels): Stated | null {
  for (const from of LEVELS) {
    const rights = levels[from];
    if (rights && (rights.statement !== '' || rights.words !== ''))
      return { statement: rights.statement, words: rights.words, from };
  }
  return null;
}

/** Of two that are found to be one: the first's statement, and all that restricts either. */
export function rightsOfBoth(one: Rights | null, other: Rights | null): Rights | null {
  if (!one || !other) return one ?? other;
  const isStated = one.statement !== '' || one.words !== '';
  const { statement, words } = isStated ? one : other;
  return {
    ...{ statement, words, isPersonal: one.isPersonal || other.isPersonal },
    restriction: longer(one.restriction, other.restriction),
  };
}

/** What has no day holds longest. */
function longer(one: Restriction | null, other: Restriction | null): Restriction | null {
  if (!one || !other) return one ?? other;
  if (one.opensOn === '' || other.opensOn === '') return one.opensOn === '' ? one : other;
  return one.opensOn >= other.opensOn ? one : other;
}
