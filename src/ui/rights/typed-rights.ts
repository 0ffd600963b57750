/** Rights as they are typed: a statement chosen or written, a restriction switched on or not. */
import { RIGHTS_STATEMENTS, type Rights } from '@/core/description/rights';

/** In place of a statement that is offered. */
export const OTHER = 'other';

export interface TypedRights {
  chosen: string;
  /** What is written where another is chosen. */
  statement: string;
  words: string;
  isRestricted: boolean;
  reason: string;
  opensOn: string;
  isPersonal: boolean;
}

const isOffered = (uri: string): boolean => (RIGHTS_STATEMENTS as readonly string[]).includes(uri);

export const typedFrom = ({ statement, words, restriction, isPersonal }: Rights): TypedRights => ({
  chosen: statement === '' || isOffered(statement) ? statement : OTHER,
  statement: isOffered(statement) ? '' : statement,
  ...{ words, isPersonal },
  isRestricted: restriction !== null,
  reason: restriction?.reason ?? '',
  opensOn: restriction?.opensOn ?? '',
});

/** What is hidden is not said. */
export const rightsFrom = (typed: TypedRights): Rights => ({
  statement: typed.chosen === OTHER ? typed.statement : typed.chosen,
  words: typed.words,
  restriction: typed.isRestricted ? { reason: typed.reason, opensOn: typed.opensOn } : null,
  isPersonal: typed.isPersonal,
});
