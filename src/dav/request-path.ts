/** The path of a request, part by part, each decoded once (RFC 3986, 2.4). */

interface AskedPath {
  parts: string[];
  /** It ends with a slash. */
  isFolder: boolean;
}

/** Null of what is no path: broken codes, no UTF-8, parts that lead elsewhere. */
export function pathIn(url: string): AskedPath | null {
  const path = url.replace(/^https?:\/\/[^/]*/i, '').replace(/[?#].*$/s, '');
  if (path !== '' && !path.startsWith('/')) return null;
  const raw = path.split('/').slice(1);
  const isFolder = raw.at(-1) === '' || raw.length === 0;
  try {
    const parts = (isFolder ? raw.slice(0, -1) : raw).map(decodeURIComponent);
    const isOdd = (part: string) => part === '.' || part === '..' || /[/\0]/.test(part);
    return parts.some(isOdd) ? null : { parts, isFolder };
  } catch {
    return null;
  }
}
