/**
 * Numbers as 16-bit BASIC keeps them: a mantissa without its leading 1 and an exponent that is 128
 * too high, least byte first.
 */

function value(bytes: Uint8Array): number {
  const size = bytes.length;
  const exponent = bytes[size - 1]!;
  if (exponent === 0) return 0;
  const top = bytes[size - 2]!;
  let mantissa = (top & 0x7f) | 0x80;
  for (let i = size - 3; i >= 0; i--) mantissa = mantissa * 256 + bytes[i]!;
  return (top & 0x80 ? -1 : 1) * mantissa * 2 ** (exponent - 128 - 8 * (size - 1));
}

/**
 * Four bytes as their machine lists them: seven digits, `!` where it could be taken for a whole
 * number.
 */
export function singleText(bytes: Uint8Array): string {
  const text = shortest(value(bytes), 7);
  return /[.E]/.test(text) ? text : `${text}!`;
}

/** Eight bytes: sixteen digits, marked with `#`, or by a `D` for the exponent. */
export function doubleText(bytes: Uint8Array): string {
  const text = shortest(value(bytes), 16).replace('E', 'D');
  return text.includes('D') ? text : `${text}#`;
}

function shortest(number: number, digits: number): string {
  const text = String(Number(number.toPrecision(digits)));
  if (!/e/.test(text)) return text.replace(/^(-?)0\./, '$1.');
  const [mantissa, exponent] = text.split('e') as [string, string];
  return `${mantissa}E${exponent.startsWith('-') ? '-' : '+'}${exponent.replace(/[-+]/, '').padStart(2, '0')}`;
}
