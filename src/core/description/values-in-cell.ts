/** The values of an element in one cell of a table: `A. Rook | B. Jay`; a bar within one is `\|`. */

const SEPARATOR = ' | ';

/** A value: what is escaped, or any character but a bar. */
const VALUES = /(?:\\[\\|]|[^|])+/g;

export const cellOfValues = (values: readonly string[]): string =>
  values.map((value) => value.replace(/[\\|]/g, '\\$&')).join(SEPARATOR);

/** Without those that are blank. */
export const valuesInCell = (cell: string): string[] =>
  (cell.match(VALUES) ?? [])
    .map((value) => value.replace(/\\([\\|])/g, '$1').trim())
    .filter((value) => value !== '');
