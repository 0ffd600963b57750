/**
 * Large numbers as every text of this application has them, whatever its language: groups of three
 * set apart by a thin space, and never by a point or a comma (ISO 80000-1, 7.3.1).
 */

/** `1 097`. */
export const grouped = (value: number): string =>
  value.toLocaleString('en').replaceAll(',', '\u2009');
