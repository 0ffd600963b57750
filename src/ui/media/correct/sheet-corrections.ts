/**
 * A table of what is registered, as it was saved here and changed elsewhere, made corrections: rows by
 * their code, each column that is there with what shall be so. What can't be understood is told with
 * its row and column, and nothing of it is taken.
 */
import { normalizeCode } from '@/core/medium-code';
import { CONDITION_MARKS } from '@/core/condition';
import { plainCell } from '@/core/csv';
import { MediumCorrection } from '@/server/features/media/new-medium';
import type { z } from 'zod';
import { ACQUISITION_WAYS } from '@/core/description/acquisition';
import { ELEMENTS } from '@/core/description/elements';
import { valuesInCell } from '@/core/description/values-in-cell';
import { DescriptionRow } from '@/server/features/descriptions/new-description';
import { cellsOf, formOf } from '../sheet';

type Change = z.input<typeof MediumCorrection>;
type Description = z.input<typeof DescriptionRow>;

export interface CorrectionRow {
  code: string;
  change: Change;
  /** Left out where the table has no column of it. */
  description?: Description;
}

export interface OddCell {
  /** As a spreadsheet counts it: the heads are row 1. */
  row: number;
  column: string;
  text: string;
}

export interface ReadSheet {
  rows: CorrectionRow[];
  odd: OddCell[];
  /** Heads that nothing is known by: they are left alone. */
  unknown: string[];
}

const YES = /^(yes|y|true|1|x)$/i;
const NO = /^(no|n|false|0|)$/i;

/** Undefined of what is neither. */
function yesOrNo(text: string): boolean | undefined {
  if (YES.test(text)) return true;
  return NO.test(text) ? false : undefined;
}

function marksOf(text: string): Change['marks'] | undefined {
  const named = text
    .split(/[,;]/)
    .map((mark) => mark.trim().toLowerCase().replaceAll(' ', '-'))
    .filter((mark) => mark !== '');
  const isKnown = (mark: string) => CONDITION_MARKS.some((each) => each === mark);
  if (!named.every(isKnown)) return undefined;
  return Object.fromEntries(CONDITION_MARKS.map((mark) => [mark, named.includes(mark)]));
}

/** What a cell of a column says; undefined of what can't be understood. */
const READ: Record<string, (text: string) => Change | undefined> = {
  new_code: (code) => (code === '' ? {} : { code }),
  // A medium has one: where none is said it stays.
  form: (text) => (text === '' ? {} : { form: formOf(text) as NonNullable<Change['form']> }),
  title: (title) => ({ title }),
  sticker: (labelText) => ({ labelText }),
  lender: (lender) => ({ lender }),
  lot: (lot) => ({ lot }),
  set: (setName) => ({ setName }),
  place: (text) => ({ setNumber: text === '' ? null : Number(text) }),
  condition: (condition) => ({ condition }),
  marks: (text) => wrapped('marks', marksOf(text)),
  treat_first: (text) => wrapped('treatFirst', yesOrNo(text)),
  write_protected: (text) => wrapped('writeProtected', yesOrNo(text)),
  recorded_side: (side) => ({ recordedSide: side as NonNullable<Change['recordedSide']> }),
  machine: (machine) => ({ machine }),
  shelf: (shelf) => ({ shelf }),
  blank: (text) => wrapped('isBlank', yesOrNo(text)),
};

const wrapped = <K extends keyof Change>(key: K, value: Change[K]): Change | undefined =>
  value === undefined ? undefined : ({ [key]: value } as Change);

/** What a cell of a column says of the medium beside what is registered. */
const SAID: Record<string, (text: string) => Description> = {
  ...Object.fromEntries(
    ELEMENTS.map((element) => [
      element,
      (text: string) => ({ elements: { [element]: valuesInCell(text) } }),
    ]),
  ),
  acquired_from: (from) => ({ acquisition: { from } }),
  acquired_on: (on) => ({ acquisition: { on } }),
  acquired_how: (text) => ({ acquisition: { how: wayOf(text) } }),
  acquired_notes: (notes) => ({ acquisition: { notes } }),
};

/** One that is none is refused by the schema. */
const wayOf = (text: string) =>
  (text === '' ? 'not-said' : text.toLowerCase()) as (typeof ACQUISITION_WAYS)[number];

const isKnown = (column: string) => Object.hasOwn(READ, column) || Object.hasOwn(SAID, column);

/** Null of what can't be understood. */
function readCell(column: string, cell: string): Omit<CorrectionRow, 'code'> | null {
  if (Object.hasOwn(SAID, column)) {
    const description = SAID[column]!(cell);
    return DescriptionRow.safeParse(description).success ? { change: {}, description } : null;
  }
  const change = Object.hasOwn(READ, column) ? READ[column]!(cell) : {};
  return change && MediumCorrection.safeParse(change).success ? { change } : null;
}

const withCell = (row: CorrectionRow, { change, description }: Omit<CorrectionRow, 'code'>) => ({
  ...row,
  change: { ...row.change, ...change },
  ...(description && {
    description: {
      elements: { ...row.description?.elements, ...description.elements },
      acquisition: { ...row.description?.acquisition, ...description.acquisition },
    },
  }),
});

/** Null of a table without a column of codes. */
export function correctionsIn(text: string): ReadSheet | null {
  const [heads = [], ...lines] = cellsOf(text.replace(/^\uFEFF/, ''));
  const columns = heads.map((head) => head.trim().toLowerCase().replaceAll(' ', '_'));
  const codeAt = columns.indexOf('code');
  if (codeAt < 0) return null;
  const sheet: ReadSheet = {
    rows: [],
    odd: [],
    unknown: heads.filter((_, i) => i !== codeAt && !isKnown(columns[i]!)),
  };
  for (const [i, cells] of lines.entries()) {
    const code = plainCell(cells[codeAt] ?? '').trim();
    let row: CorrectionRow = { code: normalizeCode(code), change: {} };
    for (const [at, column] of columns.entries()) {
      const cell = plainCell(cells[at] ?? '').trim();
      const read = readCell(column, cell);
      if (read) row = withCell(row, read);
      else sheet.odd.push({ row: i + 2, column: heads[at]!, text: cell });
    }
    if (code === '') sheet.odd.push({ row: i + 2, column: heads[codeAt]!, text: '' });
    else sheet.rows.push(row);
  }
  return sheet;
}
