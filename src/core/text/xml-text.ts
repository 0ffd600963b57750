/** Text as XML 1.0 has it (clauses 2.2 and 2.4): what it has no character for becomes U+FFFD. */

const NOT_IN_XML = /[\0-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]/g;

const ESCAPES: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  // A parser would make a line feed of it.
  '\r': '&#13;',
};

/** For content and for attributes within double quotes. */
export const xmlText = (text: string): string =>
  text
    .toWellFormed()
    .replace(NOT_IN_XML, '\ufffd')
    .replace(/[&<>"\r]/g, (character) => ESCAPES[character]!);
