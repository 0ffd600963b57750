/** Local times as file systems record them: without a zone, and often impossible. */

const two = (value: number) => String(value).padStart(2, '0');

/** `1987-03-14T09:26:52` from its parts, or null where they name no moment. */
export function localTime(
  year: number,
  month: number,
  day: number,
  hour = 0,
  minute = 0,
  second = 0,
): string | null {
  const days = new Date(Date.UTC(year, month, 0)).getUTCDate();
  if (month < 1 || month > 12 || day < 1 || day > days || hour > 23 || minute > 59 || second > 59)
    return null;
  return `${year}-${two(month)}-${two(day)}T${two(hour)}:${two(minute)}:${two(second)}`;
}
