/** The objects that lie in a second store, by what is in its folders alone. */
import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { newestFiles, type Inventory } from '@/core/ocfl/inventory';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';
import { OcflRoot } from '../ocfl-root';

const OBJECT_NAMASTE = '0=ocfl_object_1.1';

async function* foldersOfObjects(folder: string): AsyncGenerator<string> {
  const entries = await readdir(folder, { withFileTypes: true });
  if (entries.some(({ name }) => name === OBJECT_NAMASTE)) yield folder;
  else
    for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1)))
      if (entry.isDirectory() && entry.name !== 'extensions')
        yield* foldersOfObjects(join(folder, entry.name));
}

export class StoredObject {
  /** Files of its newest version, by path, each with where its bytes lie. */
  readonly files: ReadonlyMap<string, ReturnType<typeof newestFiles>[number]>;

  constructor(
    private readonly root: OcflRoot,
    readonly inventory: Inventory,
  ) {
    this.files = new Map(newestFiles(inventory).map((file) => [file.path, file]));
  }

  /** What is of no medium. */
  get isHouse(): boolean {
    return !this.inventory.id.includes('#');
  }

  stream(content: string): AsyncGenerator<Uint8Array> {
    return this.root.streamOf(this.inventory.id, content);
  }

  /** Tables whose rows are not what they were. */
  async damagedRows(): Promise<string[]> {
    const damaged: string[] = [];
    for (const { path, sha512, content } of this.files.values()) {
      if (!path.startsWith('rows/')) continue;
      const digest = await digestOfStream(this.stream(content), 'sha512').catch(() => null);
      if (digest !== sha512) damaged.push(path);
    }
    return damaged;
  }

  /** Where bytes with this SHA-256 lie; null where it has none. */
  contentOf(sha256: string): string | null {
    return this.inventory.fixity.sha256[sha256]?.[0] ?? null;
  }

  async text(path: string): Promise<string | null> {
    const file = this.files.get(path);
    if (!file) return null;
    const parts: Uint8Array[] = [];
    for await (const part of this.stream(file.content)) parts.push(part);
    return Buffer.concat(parts).toString();
  }
}

/** Those whose inventory can be read, and how many can't. */
export async function objectsIn(
  folder: string,
): Promise<{ objects: StoredObject[]; unreadable: string[] }> {
  const root = new OcflRoot(folder);
  const objects: StoredObject[] = [];
  const unreadable: string[] = [];
  for await (const at of foldersOfObjects(root.root)) {
    const inventory = await root.inventoryAt(at);
    if (inventory && root.folderOf(inventory.id) === at)
      objects.push(new StoredObject(root, inventory));
    else unreadable.push(at.slice(root.root.length + 1));
  }
  return { objects, unreadable };
}
