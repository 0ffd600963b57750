/**
 * Codes of media in an archive's own scheme: `SKP-0131`, `2024/017/3`. They are kept in capitals,
 * so that two never differ by case alone, and have only what a Code 128 label prints and a page's
 * address and a scanner carry: Latin letters, digits, spaces and . - _ / + :.
 */

export const MAX_CODE_CHARACTERS = 40;
/** A number within a code counts up to that many digits; more of them stand before it. */
const MAX_NUMBER_DIGITS = 9;

const CODE = /^[A-Z0-9](?:[A-Z0-9 ./_+:-]*[A-Z0-9])?$/;
const LAST_NUMBER = new RegExp(`^(.*?)(\\d{1,${MAX_NUMBER_DIGITS}})(\\D*)$`);
const PATTERN = /^([^#]*)(#+)([^#]*)$/;
/** A file's name on any system has none of these. */
const NOT_IN_NAMES = /[^A-Z0-9 ._+-]/g;

/** As it is kept. */
export const normalizeCode = (typed: string): string =>
  typed.trim().replace(/\s+/g, ' ').toUpperCase();

/** Of a code as it is kept. */
export const isMediumCode = (code: string): boolean =>
  code.length <= MAX_CODE_CHARACTERS && CODE.test(code);

/** What a file that holds something of the medium is called; without its ending. */
export const fileNameOfCode = (code: string): string => code.replace(NOT_IN_NAMES, '-');

/** Codes that differ by a number: what stands around it, and with how many digits it is written. */
export interface CodeNumbering {
  before: string;
  /** At least so many. */
  digits: number;
  after: string;
}

/** A code as its numbering and its number. */
export interface NumberedCode {
  numbering: CodeNumbering;
  number: number;
}

/** What a counter of such codes is kept under. */
export const seriesName = ({ before, after }: CodeNumbering): string => `${before}#${after}`;

export const codeAt = ({ before, digits, after }: CodeNumbering, number: number): string =>
  `${before}${String(number).padStart(digits, '0')}${after}`;

/** The last number of a code counts; null where there is none. */
export function readNumbering(code: string): NumberedCode | null {
  const [, before, digits, after] = LAST_NUMBER.exec(code) ?? [];
  if (before === undefined || digits === undefined || after === undefined) return null;
  return { numbering: { before, digits: digits.length, after }, number: Number(digits) };
}

/** `2024/017/##`: the run of # stands for the number. Null where it makes no codes. */
export function parseCodePattern(pattern: string): CodeNumbering | null {
  const [, before, digits, after] = PATTERN.exec(pattern) ?? [];
  if (before === undefined || digits === undefined || after === undefined) return null;
  // A digit beside the number could not be told from it.
  if (/\d$/.test(before) || /^\d/.test(after) || digits.length > MAX_NUMBER_DIGITS) return null;
  const numbering = { before, digits: digits.length, after };
  const longest = '9'.repeat(Math.max(digits.length, MAX_NUMBER_DIGITS));
  return isMediumCode(`${before}${longest}${after}`) ? numbering : null;
}

/** The number that a code has in a numbering; null where it is none of its codes. */
export function numberIn({ before, after }: CodeNumbering, code: string): number | null {
  if (!code.startsWith(before) || !code.endsWith(after)) return null;
  const number = code.slice(before.length, code.length - after.length);
  return /^\d{1,9}$/.test(number) ? Number(number) : null;
}
