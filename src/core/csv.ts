/**
 * Rows as CSV by RFC 4180, safe to open in a spreadsheet: no cell of somebody else's text can
 * become a formula.
 */

/**
 * Begins as a formula does, also in full width, behind blanks or behind characters that have no
 * width: spreadsheets take no notice of them.
 */
const FORMULA = /^[\s\p{Cc}\p{Cf}\u115f\u1160\u3164\uffa0]*[=+\-@＝＋－＠﹢﹣﹦﹫−]|^[\t\r]/u;

function cell(value: string | number | null): string {
  if (typeof value === 'number') return String(value);
  const text = value ?? '';
  const safe = FORMULA.test(text) ? `'${text}` : text;
  return /[",\r\n;]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}

/** A cell as it was before it was made safe. */
export const plainCell = (text: string): string =>
  text.startsWith("'") && FORMULA.test(text.slice(1)) ? text.slice(1) : text;

/** One row with its line end. */
export const csvRow = (cells: readonly (string | number | null)[]) =>
  `${cells.map(cell).join(',')}\r\n`;
