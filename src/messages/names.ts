/** Names of things that code knows by identifiers. */
import { told } from '.';

export const FORM_NAMES = told.forms;
export const MARK_WORDS = told.marks;
export const SIDE_WORDS = told.sides;
export const GRADE_WORDS = told.grades;
export const LACK_WORDS = told.lacks;
export const SITTING_STATE_WORDS = told.sittingStates;

/** A value that is held is faceted by: a word of ours, or a name that stays as it is. */
export const heldWord = (value: string): string =>
  Object.hasOwn(told.held, value) ? told.held[value as keyof typeof told.held] : value;
