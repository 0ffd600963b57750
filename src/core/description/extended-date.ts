/**
 * Dates of things that nobody dated: a year, a month or a day, each perhaps uncertain (`?`), about
 * (`~`) or both (`%`), a decade or a century (`198X`), and spans of two, open or not known at an end
 * (`1985/..`). Levels 0 and 1 of EDTF (ISO 8601-2, annex A) without times of day and seasons.
 */
const ONE = /^(\d{4}|\d{3}X|\d{2}XX)(?:-(\d{2})(?:-(\d{2}))?)?[?~%]?$/;
const MONTHS = 12;

function daysOf(year: number, month: number): number {
  const isLeap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  if (month === 2) return isLeap ? 29 : 28;
  return [4, 6, 9, 11].includes(month) ? 30 : 31;
}

function isOneDate(value: string): boolean {
  const [found, year, month, day] = ONE.exec(value) ?? [];
  if (!found) return false;
  if (month === undefined) return true;
  if (year!.includes('X') || Number(month) < 1 || Number(month) > MONTHS) return false;
  if (day === undefined) return true;
  return Number(day) >= 1 && Number(day) <= daysOf(Number(year), Number(month));
}

/** The first day that it may be, or the last: a day of each that sort as text does. */
const bound = (value: string, digit: '0' | '9'): string => {
  const [year, ...rest] = value
    .replace(/[?~%]$/, '')
    .replaceAll('X', digit)
    .split('-');
  return [year, ...rest, ...Array(2 - rest.length).fill(digit.repeat(2))].join('-');
};

/** Nothing ends before it began; an end that is open or not known says nothing of it. */
function isInOrder(from: string, to: string): boolean {
  return !isOneDate(from) || !isOneDate(to) || bound(from, '0') <= bound(to, '9');
}

/** What a span begins or ends with: a date, `..` where it is open, nothing where it is not known. */
const isEnd = (value: string): boolean => value === '..' || value === '' || isOneDate(value);

export function isExtendedDate(value: string): boolean {
  const ends = value.split('/');
  if (ends.length === 1) return isOneDate(value);
  const [from, to] = ends as [string, string];
  return ends.length === 2 && ends.every(isEnd) && ends.some(isOneDate) && isInOrder(from, to);
}
