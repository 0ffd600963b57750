/** A folder as a page, for whoever opens its address in a browser. */
import { grouped } from '@/core/text/grouped';
import { xmlText } from '@/core/text/xml-text';
import { hrefOf } from './multistatus';
import type { DavNode } from './node';

const STYLE =
  'body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem;color:#231f1b;' +
  'background:#f4eee6}td{padding:.15rem 1.5rem .15rem 0;vertical-align:top}a{color:#8c3a1b}';

function rowOf(path: readonly string[], name: string, node: DavNode): string {
  const href = hrefOf([...path, name], node.kind === 'folder');
  const size = node.kind === 'file' ? grouped(node.size) : '';
  const shown = xmlText(node.kind === 'folder' ? `${name}/` : name);
  const day = node.modified.toISOString().slice(0, 10);
  return `<tr><td><a href="${xmlText(href)}">${shown}</a></td><td>${size}</td><td>${day}</td></tr>\n`;
}

export function folderPage(path: readonly string[], members: ReadonlyMap<string, DavNode>): string {
  const title = xmlText(`/${path.join('/')}`);
  const up =
    path.length > 0 ? `<p><a href="${xmlText(hrefOf(path.slice(0, -1), true))}">../</a></p>` : '';
  const rows = [...members].map(([name, node]) => rowOf(path, name, node)).join('');
  return (
    '<!doctype html>\n<html lang="en">\n<head>\n<meta charset="utf-8">\n' +
    `<title>${title}</title>\n<style>${STYLE}</style>\n</head>\n<body>\n<h1>${title}</h1>\n` +
    `${up}<table>\n${rows}</table>\n</body>\n</html>\n`
  );
}
