/**
 * Rows for the register as they come from a spreadsheet or a CSV file, without a table component:
 * plain cells in, plain cells out.
 */
import { codeAt, normalizeCode, seriesName } from '@/core/medium-code';
import type { NextCode } from '@/server/features/media/codes';
import { marksIn } from '@/core/condition';
import { say } from '@/messages';

export const SHEET_COLUMNS = Object.freeze([
  'code',
  'form',
  'title',
  'labelText',
  'lender',
  'lot',
  'setName',
  'setNumber',
  'condition',
] as const);
export type SheetColumn = (typeof SHEET_COLUMNS)[number];
export type SheetRow = Record<SheetColumn, string>;

export const COLUMN_NAMES: Record<SheetColumn, string> = {
  code: say.media.code,
  form: say.media.form,
  title: say.media.whatItIs,
  labelText: say.media.whatTheLabelSays,
  lender: say.media.lender,
  lot: say.media.lot,
  setName: say.media.set,
  setNumber: say.media.no,
  condition: say.media.condition,
};

/** Other words that a heading of a spreadsheet may use. */
const HEADINGS: Record<SheetColumn, RegExp> = {
  code: /^(code|id)$/i,
  form: /^(form|size|medium|format)$/i,
  title: /^(title|what it is|name|description)$/i,
  labelText: /label/i,
  lender: /lender|owner|donor/i,
  lot: /^(lot|batch|box)$/i,
  setName: /^(set|package|belongs to)$/i,
  setNumber: /^(no\.?|number|part|disk)$/i,
  condition: /condition|state/i,
};

export const emptyRow = (): SheetRow => ({
  code: '',
  form: '',
  title: '',
  labelText: '',
  lender: '',
  lot: '',
  setName: '',
  setNumber: '',
  condition: '',
});
export const isEmpty = (row: SheetRow) =>
  SHEET_COLUMNS.every((column) => row[column].trim() === '');

/** Cells of tab- or comma-separated text, with quoted cells as RFC 4180 has them. */
export function cellsOf(text: string): string[][] {
  const separator = text.includes('\t')
    ? '\t'
    : text.includes(';') && !text.includes(',')
      ? ';'
      : ',';
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const char = text[i]!;
    if (quoted) {
      if (char !== '"') cell += char;
      else if (text[i + 1] === '"') cell += text[++i]!;
      else quoted = false;
    } else if (char === '"' && cell === '') quoted = true;
    else if (char === separator) {
      rows[rows.length - 1]!.push(cell.trim());
      cell = '';
    } else if (char === '\n') {
      rows[rows.length - 1]!.push(cell.trim());
      cell = '';
      rows.push([]);
    } else if (char !== '\r') cell += char;
  }
  rows[rows.length - 1]!.push(cell.trim());
  return rows.filter((row) => row.some((each) => each !== ''));
}

/**
 * Rows of pasted cells; a first row of headings decides the columns, else they are taken in their
 * order from `start` on.
 */
export function rowsOf(cells: readonly (readonly string[])[], start: SheetColumn): SheetRow[] {
  const [first = []] = cells;
  const byHeading = first.map((heading) =>
    SHEET_COLUMNS.find((column) => HEADINGS[column].test(heading)),
  );
  const hasHeadings = byHeading.filter(Boolean).length >= 2;
  const columns = hasHeadings ? byHeading : SHEET_COLUMNS.slice(SHEET_COLUMNS.indexOf(start));
  return cells.slice(hasHeadings ? 1 : 0).map((row) => {
    const made = emptyRow();
    for (const [i, cell] of row.entries()) {
      const column = columns[i];
      if (column) made[column] = cell;
    }
    return made;
  });
}

/** `3½"`, `3.5 inch`, `5 1/4`, `8"` as a form. */
export function formOf(text: string): string {
  const plain = text
    .replace(/½|\s1\/2/, '.5')
    .replace(/¼|\s1\/4/, '.25')
    .replace(',', '.');
  return /^\s*3\.5|^\s*$/.test(plain)
    ? '3.5'
    : /^\s*5\.25/.test(plain)
      ? '5.25'
      : /^\s*8/.test(plain)
        ? '8'
        : /hard|disk drive|hdd/i.test(plain)
          ? 'hard-disk'
          : /^\s*(cd|dvd)|disc|optical/i.test(plain)
            ? 'optical-disc'
            : text;
}

/** Gives codes that no row has, each once: those of a lot go on from where `next` says. */
function freeCodes(rows: readonly SheetRow[], next: (lot: string) => NextCode) {
  const taken = new Set(rows.map(({ code }) => normalizeCode(code)));
  const from = new Map<string, number>();
  return (lot: string): string => {
    const { numbering, number } = next(lot);
    const series = seriesName(numbering);
    for (let free = from.get(series) ?? number; ; free++) {
      const code = codeAt(numbering, free);
      from.set(series, free + 1);
      if (!taken.has(code)) return code;
    }
  };
}

/** The row as the server takes it; codes that are missing follow on what `next` says of the lot. */
export function mediaOf(rows: readonly SheetRow[], next: (lot: string) => NextCode) {
  const free = freeCodes(rows, next);
  return rows
    .filter((row) => !isEmpty(row))
    .map((row) => ({
      ...row,
      code: normalizeCode(row.code) || free(row.lot.trim()),
      form: formOf(row.form),
      setNumber: row.setNumber.trim() === '' ? null : row.setNumber,
      marks: marksIn(row.condition),
      treatFirst: /treat first|before treatment/i.test(row.condition),
    }));
}
