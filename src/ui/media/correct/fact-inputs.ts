/** How a fact is put in: as words, or chosen among a few. */
import { RECORDED_SIDES, type RecordedSide } from '@/core/condition';
import { MEDIUM_FORMS, type MediumForm } from '@/core/medium-form';
import { say } from '@/messages';
import { FORM_NAMES, SIDE_WORDS } from '@/messages/names';
import type { MediumCorrection } from '@/server/features/media/new-medium';
import type { z } from 'zod';

type Change = z.input<typeof MediumCorrection>;

interface FactInput {
  /** Values with what they are called; null of words. */
  choices: readonly (readonly [string, string])[] | null;
  change(value: string): Change;
}

const YES_OR_NO = [
  ['yes', say.correct.yes],
  ['no', say.correct.no],
] as const;

/** What many media may have in common. */
export const FACT_INPUTS = Object.freeze({
  lender: { choices: null, change: (lender) => ({ lender }) },
  machine: { choices: null, change: (machine) => ({ machine }) },
  shelf: { choices: null, change: (shelf) => ({ shelf }) },
  lot: { choices: null, change: (lot) => ({ lot }) },
  setName: { choices: null, change: (setName) => ({ setName }) },
  title: { choices: null, change: (title) => ({ title }) },
  labelText: { choices: null, change: (labelText) => ({ labelText }) },
  condition: { choices: null, change: (condition) => ({ condition }) },
  form: {
    choices: MEDIUM_FORMS.map((form) => [form, FORM_NAMES[form]] as const),
    change: (form) => ({ form: form as MediumForm }),
  },
  recordedSide: {
    choices: RECORDED_SIDES.map((side) => [side, SIDE_WORDS[side]] as const),
    change: (side) => ({ recordedSide: side as RecordedSide }),
  },
  writeProtected: {
    choices: YES_OR_NO,
    change: (value) => ({ writeProtected: value === 'yes' }),
  },
  treatFirst: { choices: YES_OR_NO, change: (value) => ({ treatFirst: value === 'yes' }) },
} satisfies Record<string, FactInput>);
export type CommonFact = keyof typeof FACT_INPUTS;

/** What a fact is when nobody chose: the first of a few. */
export const firstValue = (fact: CommonFact): string => FACT_INPUTS[fact].choices?.[0]?.[0] ?? '';
