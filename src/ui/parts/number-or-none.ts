/** What a field of a number, or a choice among numbers, holds: null where it is empty. */
export const numberOrNone = (value: string | number | null): number | null =>
  value === '' || value === null ? null : Number(value);
