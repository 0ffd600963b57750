/**
 * Text as PostgreSQL can hold it. Names and labels from media, files and requests may hold a NUL
 * or half a character
 * pair, which neither text nor jsonb takes.
 */
export function sanitizeText(text: string): string {
  return text.toWellFormed().replaceAll('\0', '\ufffd');
}
