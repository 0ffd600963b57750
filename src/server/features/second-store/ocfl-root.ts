/**
 * A storage root (OCFL 1.1) in a folder: objects written beside it first and moved in whole, so that
 * what breaks off is never taken for a version; what a break left is put right before the next one.
 */
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { access, mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import {
  contentFiles,
  inventoryIn,
  inventoryText,
  versionOf,
  type Inventory,
} from '@/core/ocfl/inventory';
import {
  LAYOUT_CONFIG,
  LAYOUT_DECLARED,
  LAYOUT_EXTENSION,
  objectFolder,
} from '@/core/ocfl/storage-layout';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';

const INVENTORY = 'inventory.json';
const SIDECAR = `${INVENTORY}.sha512`;
const ROOT_NAMASTE = '0=ocfl_1.1';
const OBJECT_NAMASTE = '0=ocfl_object_1.1';

const sha512 = (bytes: Uint8Array | string) => createHash('sha512').update(bytes).digest('hex');

/** Whether an error is the system's own, of a file or a folder. */
export const isOfDisk = (error: unknown): error is NodeJS.ErrnoException =>
  typeof error === 'object' && error !== null && 'syscall' in error;

export async function isThere(path: string): Promise<boolean> {
  return access(path).then(
    () => true,
    () => false,
  );
}

/** On the disk, and not only on its way there. */
async function writeDurably(path: string, bytes: Uint8Array | string): Promise<void> {
  const file = await open(path, 'w');
  try {
    await file.writeFile(bytes);
    await file.sync();
  } finally {
    await file.close();
  }
}

/** What was moved into a folder, or out of it, is so after a power cut too. */
async function syncFolder(path: string): Promise<void> {
  const folder = await open(path, 'r');
  await folder.sync().finally(() => folder.close());
}

async function writeInventory(folder: string, text: string): Promise<void> {
  await writeDurably(join(folder, INVENTORY), text);
  await writeDurably(join(folder, SIDECAR), `${sha512(text)}  ${INVENTORY}\n`);
}

/** An inventory and the digest beside it; null where they do not belong together. */
async function readInventoryIn(
  folder: string,
): Promise<{ inventory: Inventory; text: string } | null> {
  try {
    const bytes = await readFile(join(folder, INVENTORY));
    const [digest] = (await readFile(join(folder, SIDECAR), 'utf8')).split(/\s/);
    const inventory = digest === sha512(bytes) ? inventoryIn(bytes) : null;
    return inventory && { inventory, text: bytes.toString() };
  } catch {
    return null;
  }
}

const PIECE = 1 << 20;

/** A file on its disk, piece by piece; `between` is waited for after each. */
export async function* readInPieces(
  path: string,
  between: () => Promise<void> = async () => undefined,
): AsyncGenerator<Uint8Array> {
  for await (const part of createReadStream(path, { highWaterMark: PIECE })) {
    yield part as Uint8Array;
    await between();
  }
}

async function versionsIn(folder: string): Promise<number[]> {
  const names = await readdir(folder).catch(() => []);
  return names.filter((name) => /^v\d+$/.test(name)).map((name) => Number(name.slice(1)));
}

export class OcflRoot {
  /** The storage root; what is on its way into it lies beside, on the same disk. */
  readonly root: string;
  private readonly staging: string;

  constructor(folder: string) {
    this.root = join(folder, 'ocfl');
    this.staging = join(folder, 'on-its-way');
  }

  /** Begins a root where there is none; takes away what a break left on its way. */
  async prepare(): Promise<void> {
    await rm(this.staging, { recursive: true, force: true });
    await mkdir(this.staging, { recursive: true });
    const extension = join(this.root, 'extensions', LAYOUT_EXTENSION);
    await mkdir(extension, { recursive: true });
    const json = (value: object) => `${JSON.stringify(value, null, 1)}\n`;
    await writeDurably(join(extension, 'config.json'), json(LAYOUT_CONFIG));
    await writeDurably(join(this.root, 'ocfl_layout.json'), json(LAYOUT_DECLARED));
    await writeDurably(join(this.root, ROOT_NAMASTE), 'ocfl_1.1\n');
    await syncFolder(this.root);
  }

  folderOf(id: string): string {
    return join(this.root, objectFolder(createHash('sha256').update(id).digest('hex')));
  }

  /** A new folder for what is on its way. */
  async stage(): Promise<string> {
    const folder = join(this.staging, randomUUID());
    await mkdir(folder);
    return folder;
  }

  /** Null where there is no such object. Throws where its inventory is not what it was. */
  async inventoryOf(id: string): Promise<Inventory | null> {
    const folder = this.folderOf(id);
    if (!(await isThere(folder))) return null;
    await this.recover(folder);
    const read = await readInventoryIn(folder);
    if (read?.inventory.id !== id) throw new Error(`the inventory of ${id} is damaged`);
    return read.inventory;
  }

  /**
   * What an object in a folder holds, of the newest version that is whole; null where nothing says
   * so. Nothing is put right: the store may be one that is only read.
   */
  async inventoryAt(folder: string): Promise<Inventory | null> {
    const above = await readInventoryIn(folder);
    if (above) return above.inventory;
    const versions = await versionsIn(folder);
    for (const version of versions.sort((a, b) => b - a)) {
      const inside = await readInventoryIn(join(folder, `v${version}`));
      if (inside && (await this.areThere(folder, inside))) return inside.inventory;
    }
    return null;
  }

  /** What broke off between a version and the inventory above it is ended, or taken back. */
  private async recover(folder: string): Promise<void> {
    const versions = await versionsIn(folder);
    const newest = `v${Math.max(0, ...versions)}`;
    const above = await readInventoryIn(folder);
    if (above?.inventory.head === newest) return;
    const inside = await readInventoryIn(join(folder, newest));
    const isNext = inside?.inventory.head === newest && (await this.areThere(folder, inside));
    if (isNext) await this.putInventory(folder, inside.text);
    // A version of a sound object that never became one.
    else if (above && versionOf(above.inventory) === versions.length - 1)
      await rm(join(folder, newest), { recursive: true });
  }

  private async areThere(folder: string, { inventory }: { inventory: Inventory }) {
    for (const { content } of contentFiles(inventory))
      if (!(await isThere(join(folder, content)))) return false;
    return true;
  }

  /** The inventory above all versions: one is replaced by another at once, then its digest. */
  private async putInventory(folder: string, text: string): Promise<void> {
    const stage = await this.stage();
    await writeInventory(stage, text);
    await rename(join(stage, INVENTORY), join(folder, INVENTORY));
    await rename(join(stage, SIDECAR), join(folder, SIDECAR));
    await syncFolder(folder);
    await rm(stage, { recursive: true });
  }

  /**
   * Moves a version in whose bytes lie in `stage` under the paths that they shall have in the object
   * (`v2/content/…`).
   */
  async moveIn(stage: string, inventory: Inventory): Promise<void> {
    const { id, head } = inventory;
    const text = inventoryText(inventory);
    await mkdir(join(stage, head), { recursive: true });
    await writeInventory(join(stage, head), text);
    await syncFolder(join(stage, head));
    const folder = this.folderOf(id);
    if (head === 'v1') {
      await writeDurably(join(stage, OBJECT_NAMASTE), 'ocfl_object_1.1\n');
      await writeInventory(stage, text);
      await mkdir(dirname(folder), { recursive: true });
      await rename(stage, folder);
      await syncFolder(dirname(folder));
      return;
    }
    await rename(join(stage, head), join(folder, head));
    await syncFolder(folder);
    await this.putInventory(folder, text);
    await rm(stage, { recursive: true, force: true });
  }

  /** Paths of an object whose bytes are not what the inventory says; none where all are. */
  async damagedIn(
    inventory: Inventory,
    between: () => Promise<void> = async () => undefined,
  ): Promise<{ content: string; sha512: string }[]> {
    const folder = this.folderOf(inventory.id);
    const damaged: { content: string; sha512: string }[] = [];
    for (const file of contentFiles(inventory)) {
      const parts = readInPieces(join(folder, file.content), between);
      // One that can't be read is damaged as well; who gives up reading says nothing of it.
      const digest = await digestOfStream(parts, 'sha512').catch((error: unknown) => {
        if (!isOfDisk(error)) throw error;
        return null;
      });
      if (digest !== file.sha512) damaged.push(file);
    }
    return damaged;
  }

  /** The bytes of a file of an object. */
  streamOf(id: string, content: string): AsyncGenerator<Uint8Array> {
    return readInPieces(join(this.folderOf(id), content));
  }

  /** Of all its files that are there. */
  async bytesOf(inventory: Inventory): Promise<number> {
    const sizes = await Promise.all(
      contentFiles(inventory).map(({ content }) =>
        stat(join(this.folderOf(inventory.id), content)).then(
          ({ size }) => size,
          () => 0,
        ),
      ),
    );
    return sizes.reduce((sum, size) => sum + size, 0);
  }

  /** Puts bytes in the place of damaged ones; `from` is a file on the same disk. */
  async replace(id: string, content: string, from: string): Promise<void> {
    const to = join(this.folderOf(id), content);
    await mkdir(dirname(to), { recursive: true });
    await rename(from, to);
    await syncFolder(dirname(to));
  }
}
