/** Days of the calendar as they are written in forms and kept: `2041-01-01` (ISO 8601-1). */
import { isExtendedDate } from './extended-date';

export const isDay = (text: string): boolean =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && isExtendedDate(text);

const twoDigits = (value: number): string => String(value).padStart(2, '0');

/** The day that it is where this runs: what opens on a day opens when that begins there. */
export const dayOf = (at: Date): string =>
  [at.getFullYear(), at.getMonth() + 1, at.getDate()].map(twoDigits).join('-');

const MS_A_DAY = 86_400_000;

/** How many days the second is after the first; less than none where it is before. */
export const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(to) - Date.parse(from)) / MS_A_DAY);
