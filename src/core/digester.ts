/** SHA-256, passed in: Node, browsers and workers each bring their own. */

export interface Sha256Stream {
  update(bytes: Uint8Array): void;
  /** 32 bytes; the stream can't be used after. */
  digest(): Uint8Array;
}

export interface Digester {
  sha256(bytes: Uint8Array): Uint8Array;
  sha256Stream(): Sha256Stream;
}

/** Lower-case hexadecimal. */
export function toHex(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes) text += byte.toString(16).padStart(2, '0');
  return text;
}
