/** What a PROPFIND asks for (RFC 4918, 9.1 and 14.20): read strictly, and no entity is ever resolved. */
import { SaxesParser, type SaxesTagNS } from 'saxes';
import { DAV, type PropertyName } from './properties';

export type Asked =
  | { kind: 'allprop'; include: readonly PropertyName[] }
  | { kind: 'propname' }
  | { kind: 'prop'; names: readonly PropertyName[] };

/** It is not XML, or not a PROPFIND. */
export class NotAsked extends Error {}

/** Names of one request. */
const MAX_NAMES = 500;
const MAX_DEPTH = 50;

type Inside = 'prop' | 'include' | null;

/** Takes in elements as they open: the root, what is asked, and the names within. */
class AskedReader {
  private depth = 0;
  private inside: Inside = null;
  private kinds = new Set<string>();
  readonly names: PropertyName[] = [];
  readonly include: PropertyName[] = [];

  open({ uri, local }: SaxesTagNS): void {
    this.depth++;
    if (this.depth > MAX_DEPTH) throw new NotAsked('too deep');
    if (this.depth === 1 && (uri !== DAV || local !== 'propfind'))
      throw new NotAsked('no propfind');
    if (this.depth === 2 && uri === DAV) {
      this.inside = local === 'prop' || local === 'include' ? local : null;
      this.kinds.add(local);
    }
    if (this.depth === 3 && this.inside) this.add(this.inside, { uri, local });
  }

  private add(inside: 'prop' | 'include', name: PropertyName): void {
    const names = inside === 'prop' ? this.names : this.include;
    if (names.length >= MAX_NAMES) throw new NotAsked('too many names');
    names.push(name);
  }

  close(): void {
    if (this.depth === 2) this.inside = null;
    this.depth--;
  }

  asked(): Asked {
    const kinds = ['prop', 'propname', 'allprop'].filter((kind) => this.kinds.has(kind));
    if (kinds.length !== 1) throw new NotAsked('one of prop, propname and allprop');
    if (kinds[0] === 'prop') return { kind: 'prop', names: this.names };
    if (kinds[0] === 'propname') return { kind: 'propname' };
    return { kind: 'allprop', include: this.include };
  }
}

/** Throws NotAsked. An empty body asks for everything. */
export function askedIn(body: Uint8Array): Asked {
  if (body.length === 0) return { kind: 'allprop', include: [] };
  const reader = new AskedReader();
  const parser = new SaxesParser({ xmlns: true });
  const refuse = (why: string) => {
    throw new NotAsked(why);
  };
  parser.on('error', (error) => refuse(error.message));
  parser.on('doctype', () => refuse('a document type'));
  parser.on('opentag', (tag) => reader.open(tag));
  parser.on('closetag', () => reader.close());
  try {
    parser.write(new TextDecoder('utf-8', { fatal: true }).decode(body)).close();
  } catch (error) {
    throw error instanceof NotAsked ? error : new NotAsked((error as Error).message);
  }
  return reader.asked();
}
