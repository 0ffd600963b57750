/** The next version of an object while it is put together: what is new is written, the rest known. */
import { mkdir, open, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import {
  heldAs,
  isSameState,
  nextInventory,
  type Inventory,
  type StateFile,
  type VersionAbout,
} from '@/core/ocfl/inventory';
import { UniqueNames } from '@/core/volume/unique-names';
import { digestOfStream, ThreadedHash } from '@/server/platform/threads/threaded-hash';
import { readInPieces, type OcflRoot } from './ocfl-root';

interface FileToStore {
  /** Where it is to be found in the object; made safe and told apart. */
  path: string;
  stream(): AsyncIterable<Uint8Array>;
  /** Where it is known before: what is held already is not read. */
  sha256?: string;
}

interface Written {
  sha512: string;
  sha256: string;
}

export class DraftVersion {
  private readonly names = new UniqueNames();
  private readonly files: StateFile[] = [];
  /** Where new bytes lie, by their digest. */
  private readonly staged = new Map<string, string>();

  private constructor(
    private readonly root: OcflRoot,
    private readonly id: string,
    readonly before: Inventory | null,
    private readonly stage: string,
  ) {}

  static async of(root: OcflRoot, id: string): Promise<DraftVersion> {
    return new DraftVersion(root, id, await root.inventoryOf(id), await root.stage());
  }

  /** Answers with its path and its digests. */
  async add({ path, stream, sha256 }: FileToStore): Promise<StateFile> {
    const held = sha256 === undefined ? null : this.known(sha256);
    const digests = held
      ? { sha512: held, sha256: sha256! }
      : await this.write(stream(), sha256 ?? null);
    const file = { path: this.names.pathOf(path), ...digests };
    this.files.push(file);
    return file;
  }

  addText(path: string, text: string): Promise<StateFile> {
    const bytes = new TextEncoder().encode(text);
    return this.add({
      path,
      stream: async function* () {
        yield bytes;
      },
    });
  }

  private known(sha256: string): string | null {
    const inDraft = this.files.find((file) => file.sha256 === sha256)?.sha512;
    return inDraft ?? (this.before && heldAs(this.before, sha256));
  }

  /** What is stored in chunks is held against their digests as it is read: its own is known. */
  private async write(parts: AsyncIterable<Uint8Array>, known: string | null): Promise<Written> {
    const path = join(this.stage, `file-${this.files.length}`);
    const hashes = [
      new ThreadedHash('sha512'),
      ...(known === null ? [new ThreadedHash('sha256')] : []),
    ];
    const file = await open(path, 'w');
    try {
      for await (const part of parts)
        await Promise.all([file.appendFile(part), ...hashes.map((hash) => hash.update(part))]);
      await file.sync();
      const [sha512, sha256 = known] = await Promise.all(hashes.map((hash) => hash.digest()));
      const isHeld = this.before?.manifest[sha512!] ?? this.staged.has(sha512!);
      if (isHeld) await rm(path);
      else this.staged.set(sha512!, path);
      return { sha512: sha512!, sha256: sha256! };
    } finally {
      for (const hash of hashes) hash.drop();
      await file.close();
    }
  }

  /**
   * Reads back what is new of it and moves it into the store. Answers with the inventory that holds
   * now: the one before where nothing is other. Throws where what was read back is not what was
   * written, with nothing moved.
   */
  async keep(about: VersionAbout): Promise<Inventory> {
    if (this.before && isSameState(this.before, this.files)) {
      await this.drop();
      return this.before;
    }
    const { inventory, content } = nextInventory(this.before, this.id, this.files, about);
    for (const [sha512, path] of content) {
      const to = join(this.stage, path);
      await mkdir(dirname(to), { recursive: true });
      await rename(this.staged.get(sha512)!, to);
      const digest = await digestOfStream(readInPieces(to), 'sha512');
      if (digest !== sha512) throw new Error(`${path} of ${this.id} reads otherwise`);
    }
    await this.root.moveIn(this.stage, inventory);
    return inventory;
  }

  async drop(): Promise<void> {
    await rm(this.stage, { recursive: true, force: true });
  }
}
