/**
 * Pictures that every browser draws by itself, by their first bytes; and what else may lie beside a
 * disk.
 */
import { looksLikeText } from '../scan/text';

const begins = (bytes: Uint8Array, text: string, at = 0) =>
  [...text].every((char, i) => bytes[at + i] === char.charCodeAt(0));

export type BrowserPicture = 'image/png' | 'image/jpeg' | 'image/gif' | 'image/webp';

export function browserPicture(bytes: Uint8Array): BrowserPicture | null {
  if (begins(bytes, '\x89PNG\r\n\x1a\n')) return 'image/png';
  if (begins(bytes, '\xff\xd8\xff')) return 'image/jpeg';
  if (begins(bytes, 'GIF87a') || begins(bytes, 'GIF89a')) return 'image/gif';
  return begins(bytes, 'RIFF') && begins(bytes, 'WEBP', 8) ? 'image/webp' : null;
}

/**
 * What may be laid beside a disk: a picture, a paper, or a text. Of a text its beginning is enough.
 */
export function paperType(
  bytes: Uint8Array,
): BrowserPicture | 'application/pdf' | 'text/plain' | null {
  const picture = browserPicture(bytes);
  if (picture) return picture;
  if (begins(bytes, '%PDF-')) return 'application/pdf';
  return bytes.length > 0 && !bytes.includes(0) && looksLikeText(bytes) ? 'text/plain' : null;
}
