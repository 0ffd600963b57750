/** Live properties of RFC 4918, 15, that a tree has which is only read. */
import { xmlText } from '@/core/text/xml-text';
import type { DavNode } from './node';

/** A name with its namespace. */
export interface PropertyName {
  uri: string;
  local: string;
}

export const DAV = 'DAV:';

type Value = (node: DavNode) => string | null;

/** What each holds, as XML; null of what has none of it. */
const VALUES: Readonly<Record<string, Value>> = Object.freeze({
  resourcetype: ({ kind }) => (kind === 'folder' ? '<D:collection/>' : ''),
  displayname: ({ name }) => (name === '' ? null : xmlText(name)),
  getlastmodified: ({ modified }) => modified.toUTCString(),
  getcontentlength: (node) => (node.kind === 'file' ? String(node.size) : null),
  getcontenttype: (node) => (node.kind === 'file' ? xmlText(node.type) : null),
  getetag: (node) => (node.kind === 'file' ? xmlText(`"${node.tag}"`) : null),
  supportedlock: () => '',
});

const NAMES = Object.keys(VALUES);

const element = (name: string, inside: string): string =>
  inside === '' ? `<D:${name}/>` : `<D:${name}>${inside}</D:${name}>`;

/** One that is not of WebDAV, or not known: as it was asked for, without a value. */
const unknown = ({ uri, local }: PropertyName): string =>
  uri === '' ? `<${xmlText(local)} xmlns=""/>` : `<x:${xmlText(local)} xmlns:x="${xmlText(uri)}"/>`;

/** What is known of a node, all of it, with or without values. */
export const allProperties = (node: DavNode, withValues: boolean): string =>
  NAMES.map((name) => {
    const value = VALUES[name]!(node);
    return value === null ? '' : element(name, withValues ? value : '');
  }).join('');

/** Of the properties that are asked for, those it has and those it has not. */
export function someProperties(
  node: DavNode,
  wanted: readonly PropertyName[],
): { has: string; lacks: string } {
  const found = { has: '', lacks: '' };
  for (const name of wanted) {
    const isKnown = name.uri === DAV && Object.hasOwn(VALUES, name.local);
    const value = isKnown ? VALUES[name.local]!(node) : null;
    if (value === null) found.lacks += unknown(name);
    else found.has += element(name.local, value);
  }
  return found;
}
