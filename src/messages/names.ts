/** Names of things that code knows by identifiers. */
import { told } from '.';

export const FORM_NAMES = told.forms;
export const BLANK_NAMES = told.blanks;
export const TARGET_NAMES = told.targets;
export const MARK_WORDS = told.marks;
export const SIDE_WORDS = told.sides;
export const GRADE_WORDS = told.grades;
export const LACK_WORDS = told.lacks;
export const SITTING_STATE_WORDS = told.sittingStates;

/** A machine that a row names; null where it names none, or one of a later version. */
export const targetName = (id: string | null): string | null =>
  id !== null && Object.hasOwn(told.targets, id)
    ? told.targets[id as keyof typeof told.targets]
    : null;

/** A blank volume that a row names; nothing where it names none, or one of a later version. */
export const blankName = (id: string | null): string =>
  id !== null && Object.hasOwn(told.blanks, id) ? told.blanks[id as keyof typeof told.blanks] : '';

/** Whether what is held is faceted by a word of ours here, and not by a name from a medium. */
export const isHeldWord = (value: string): value is keyof typeof told.held =>
  Object.hasOwn(told.held, value);

/** A value that is held is faceted by: a word of ours, or a name that stays as it is. */
export const heldWord = (value: string): string => (isHeldWord(value) ? told.held[value] : value);
