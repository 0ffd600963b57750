/** The answer to a PROPFIND (RFC 4918, 13): what is known of a node and of its members. */
import type { DavNode } from './node';
import type { Asked } from './propfind';
import { allProperties, someProperties, type PropertyName } from './properties';

/** Parts of a path as an address, every character that means something encoded. */
export function hrefOf(path: readonly string[], isFolder: boolean): string {
  const parts = path.map((part) =>
    encodeURIComponent(part).replace(
      /[!'()*]/g,
      (char) => `%${char.charCodeAt(0).toString(16).toUpperCase()}`,
    ),
  );
  return `/${parts.join('/')}${isFolder && parts.length > 0 ? '/' : ''}`;
}

const propstat = (properties: string, status: string): string =>
  `<D:propstat><D:prop>${properties}</D:prop><D:status>HTTP/1.1 ${status}</D:status></D:propstat>`;

const OK = '200 OK';

function namedStats(node: DavNode, names: readonly PropertyName[], before = ''): string {
  const { has, lacks } = someProperties(node, names);
  const found = before + has;
  const missing = lacks === '' ? '' : propstat(lacks, '404 Not Found');
  return (found !== '' || missing === '' ? propstat(found, OK) : '') + missing;
}

function statsOf(node: DavNode, asked: Asked): string {
  switch (asked.kind) {
    case 'propname':
      return propstat(allProperties(node, false), OK);
    case 'allprop':
      return namedStats(node, asked.include, allProperties(node, true));
    case 'prop':
      return namedStats(node, asked.names);
  }
}

export interface Placed {
  path: readonly string[];
  node: DavNode;
}

/** Responses written at once. */
const AT_ONCE = 200;

export async function* multistatus(
  placed: Iterable<Placed>,
  asked: Asked,
): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  let text = '<?xml version="1.0" encoding="utf-8"?>\n<D:multistatus xmlns:D="DAV:">\n';
  let count = 0;
  for (const { path, node } of placed) {
    const href = hrefOf(path, node.kind === 'folder');
    text += `<D:response><D:href>${href}</D:href>${statsOf(node, asked)}</D:response>\n`;
    if (++count % AT_ONCE === 0) {
      yield encoder.encode(text);
      text = '';
    }
  }
  yield encoder.encode(`${text}</D:multistatus>\n`);
}
