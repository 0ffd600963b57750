/** What a tree that is read through WebDAV is made of: folders and files, as they are asked for. */

export interface DavFile {
  kind: 'file';
  /** As it stands in an address, before anything is encoded. */
  name: string;
  size: number;
  /** Its media type. */
  type: string;
  modified: Date;
  /** Changes with its bytes: letters and digits. */
  tag: string;
  /** Bytes `start` to `end`. Throws DavRefusal before the first of them where it may not be read. */
  stream(start: number, end: number): AsyncIterable<Uint8Array>;
}

export interface DavFolder {
  kind: 'folder';
  name: string;
  modified: Date;
  /** Each with a name of its own. Throws DavRefusal where it may not be looked into. */
  members(): Promise<ReadonlyMap<string, DavNode>>;
}

export type DavNode = DavFile | DavFolder;

/** Something that is there and is not given: why, in words. */
export class DavRefusal extends Error {
  constructor(
    readonly status: 403 | 404 | 409 | 503,
    message: string,
  ) {
    super(message);
  }
}

/** By the parts of its path; null where there is none. */
export async function nodeAt(root: DavFolder, path: readonly string[]): Promise<DavNode | null> {
  let node: DavNode = root;
  for (const part of path) {
    if (node.kind === 'file') return null;
    const found: DavNode | undefined = (await node.members()).get(part);
    if (!found) return null;
    node = found;
  }
  return node;
}
