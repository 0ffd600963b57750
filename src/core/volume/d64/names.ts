/**
 * Names in the 8-bit character set of the `.d64` family: 20h–5Ah as in ASCII, shifted letters as
 * small ones, the rest by its code.
 */

const SPECIAL: Readonly<Record<number, string>> = Object.freeze({
  0x5b: '[',
  0x5c: '£',
  0x5d: ']',
  0x5e: '↑',
  0x5f: '←',
  0xa0: '\u00a0',
});
const PADDING = 0xa0;

/** A character by its code. */
export function charOf(byte: number): string {
  if (byte >= 0x20 && byte <= 0x5a) return String.fromCharCode(byte);
  if (byte >= 0xc1 && byte <= 0xda) return String.fromCharCode(byte - 0x60);
  return SPECIAL[byte] ?? `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`;
}

/** A name up to its padding. */
export function nameOf(bytes: Uint8Array): string {
  let end = bytes.length;
  while (end > 0 && (bytes[end - 1] === PADDING || bytes[end - 1] === 0)) end--;
  return Array.from(bytes.subarray(0, end), charOf).join('');
}

/**
 * Bytes of a name, padded to `length`; null where a character has no counterpart or it is too long.
 */
export function bytesOfName(name: string, length: number): Uint8Array | null {
  const out = new Uint8Array(length).fill(PADDING);
  let at = 0;
  for (let i = 0; i < name.length;) {
    const coded = /^‹([0-9A-F]{2})›/.exec(name.slice(i));
    const char = name[i]!;
    const code = char.charCodeAt(0);
    const special = Object.entries(SPECIAL).find(([, text]) => text === char);
    const byte = coded
      ? parseInt(coded[1]!, 16)
      : code >= 0x20 && code <= 0x5a
        ? code
        : code >= 0x61 && code <= 0x7a
          ? code + 0x60
          : special
            ? Number(special[0])
            : null;
    if (byte === null || at >= length) return null;
    out[at++] = byte;
    i += coded ? coded[0].length : 1;
  }
  return out;
}
