/**
 * Names made harmless: a name from a medium is data, not a path. It may hold separators, be `..`,
 * be a device of
 * some system, or be longer than today's file systems take.
 */

const DEVICES = /^(con|prn|aux|nul|clock\$|com[0-9¹²³]|lpt[0-9¹²³])$/i;
// Control characters, separators, and what some system refuses in names or a page could take for
// markup.
const FORBIDDEN = /[\u0000-\u001f\u007f-\u009f/\\<>:"|?*\u202a-\u202e\u2066-\u2069]/g;
const LONGEST_BYTES = 255;

const utf8 = new TextEncoder();

/** Cut to at most 255 bytes of UTF-8, keeping a short extension. */
function shorten(name: string): string {
  const dot = name.lastIndexOf('.');
  const extension = dot > 0 && name.length - dot <= 16 ? name.slice(dot) : '';
  let stem = [...name.slice(0, name.length - extension.length)];
  while (stem.length > 0 && utf8.encode(stem.join('') + extension).length > LONGEST_BYTES)
    stem = stem.slice(0, -1);
  return stem.join('') + extension;
}

/** The name as it may stand in a path on any system; the same string where it already may. */
export function safeName(name: string): string {
  let safe = name.toWellFormed().replace(FORBIDDEN, '_');
  if (/^\.+$/.test(safe) || safe === '') safe = safe.replaceAll('.', '_') || '_';
  if (DEVICES.test(safe.split('.')[0]!.trimEnd())) safe = `_${safe}`;
  // Trailing dots and spaces vanish on some systems, so that two names could become one.
  safe = safe.replace(/[. ]+$/, (tail) => '_'.repeat(tail.length));
  return utf8.encode(safe).length > LONGEST_BYTES ? shorten(safe) : safe;
}

export function isSafeName(name: string): boolean {
  return safeName(name) === name;
}
