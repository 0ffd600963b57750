/** Tags of languages: `en`, `pt-BR` (BCP 47, well-formed; RFC 5646, 2.1). */

/** Whole, as the languages of the world have codes: two or three letters first. */
const FIRST = /^[a-z]{2,3}(-|$)/;

export function isLanguageTag(value: string): boolean {
  if (!FIRST.test(value)) return false;
  try {
    return Intl.getCanonicalLocales(value).length === 1;
  } catch {
    return false;
  }
}
