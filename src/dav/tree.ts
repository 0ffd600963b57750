/** A tree that is known as a whole: files by their paths, with the folders that these lead through. */
import type { DavFile, DavFolder, DavNode } from './node';

export interface TreeFile extends Omit<DavFile, 'kind' | 'name'> {
  /** Parts that are safe anywhere, between slashes; of no two files the same. */
  path: string;
}

class BuiltFolder implements DavFolder {
  readonly kind = 'folder';
  readonly own = new Map<string, DavNode>();

  constructor(
    readonly name: string,
    readonly modified: Date,
  ) {}

  members(): Promise<ReadonlyMap<string, DavNode>> {
    return Promise.resolve(this.own);
  }

  folder(name: string): BuiltFolder {
    const there = this.own.get(name);
    if (there instanceof BuiltFolder) return there;
    const made = new BuiltFolder(name, this.modified);
    this.own.set(name, made);
    return made;
  }
}

/** `folders`: paths of folders that may be empty. */
export function treeOf(
  name: string,
  modified: Date,
  files: readonly TreeFile[],
  folders: readonly string[] = [],
): DavFolder {
  const root = new BuiltFolder(name, modified);
  const folderAt = (parts: readonly string[]) =>
    parts.reduce((folder: BuiltFolder, part) => folder.folder(part), root);
  for (const path of folders) folderAt(path.split('/'));
  for (const { path, ...file } of files) {
    const parts = path.split('/');
    const own = parts.pop()!;
    folderAt(parts).own.set(own, { kind: 'file', name: own, ...file });
  }
  return root;
}

/** Bytes `start` to `end` of what can only be had from its beginning. */
export async function* partOf(
  whole: AsyncIterable<Uint8Array>,
  start: number,
  end: number,
): AsyncGenerator<Uint8Array> {
  let at = 0;
  for await (const piece of whole) {
    const from = Math.max(0, start - at);
    const to = Math.min(piece.length, end - at);
    if (from < to) yield piece.subarray(from, to);
    at += piece.length;
    if (at >= end) return;
  }
}
