/**
 * Inventories of objects in a store (Oxford Common File Layout 1.1, 3.5): what each version of an
 * object holds, by digests, and where their bytes lie. Bytes that an earlier version had are not
 * stored again.
 */
import { z } from 'zod';

const DIGEST = /^[0-9a-f]{128}$/;
const VERSION = /^v[1-9]\d*$/;
const SPEC = 'https://ocfl.io/1.1/spec/#inventory';

/** A path that stays below the folder it is of. */
const path = z
  .string()
  .refine((text) => text.split('/').every((part) => !['', '.', '..'].includes(part)));
const paths = z.array(path).min(1);
const digests = z.record(z.string().regex(DIGEST), paths);

const Version = z.object({
  created: z.iso.datetime({ offset: true }),
  state: digests,
  message: z.string(),
  user: z.object({ name: z.string(), address: z.string().optional() }),
});

export const Inventory = z.object({
  id: z.string().min(1),
  type: z.literal(SPEC),
  digestAlgorithm: z.literal('sha512'),
  head: z.string().regex(VERSION),
  manifest: digests,
  versions: z.record(z.string().regex(VERSION), Version),
  fixity: z.object({ sha256: z.record(z.string().regex(/^[0-9a-f]{64}$/), paths) }),
});
export type Inventory = z.output<typeof Inventory>;

/** A file of a version: where it is to be found in it, and its digests. */
export interface StateFile {
  path: string;
  sha512: string;
  sha256: string;
}

export interface VersionAbout {
  created: Date;
  message: string;
  user: { name: string; address: string };
}

/** Digests by paths turned about, both in order, so that what is the same reads the same. */
function byDigest(entries: readonly (readonly [digest: string, path: string])[]) {
  const all: Record<string, string[]> = {};
  for (const [digest, at] of [...entries].sort(([a, b], [c, d]) => (a + b < c + d ? -1 : 1)))
    (all[digest] ??= []).push(at);
  return all;
}

const entriesOf = (record: Record<string, readonly string[]>) =>
  Object.entries(record).flatMap(([digest, all]) => all.map((at) => [digest, at] as const));

const stateOf = (files: readonly StateFile[]) =>
  byDigest(files.map(({ path: at, sha512 }) => [sha512, at]));

export const versionOf = ({ head }: Inventory): number => Number(head.slice(1));

/** Whether a version with these files would be the same as the newest. */
export const isSameState = (before: Inventory, files: readonly StateFile[]): boolean =>
  JSON.stringify(byDigest(entriesOf(before.versions[before.head]!.state))) ===
  JSON.stringify(stateOf(files));

/** Digest by SHA-512 of bytes that the object holds already, by their SHA-256. */
export function heldAs({ manifest, fixity }: Inventory, sha256: string): string | null {
  const [at] = fixity.sha256[sha256] ?? [];
  return entriesOf(manifest).find(([, held]) => held === at)?.[0] ?? null;
}

/** Paths in the object of new bytes of a version. */
type NewContent = ReadonlyMap<string, string>;

/** The inventory of the next version, and where bytes that are new go, by their SHA-512. */
export function nextInventory(
  before: Inventory | null,
  id: string,
  files: readonly StateFile[],
  { created, message, user }: VersionAbout,
): { inventory: Inventory; content: NewContent } {
  const head = `v${before ? versionOf(before) + 1 : 1}`;
  const content = new Map<string, string>();
  const sha256 = new Map<string, string>();
  for (const file of files) {
    if (before?.manifest[file.sha512] || content.has(file.sha512)) continue;
    content.set(file.sha512, `${head}/content/${file.path}`);
    sha256.set(file.sha256, `${head}/content/${file.path}`);
  }
  const version = { created: created.toISOString(), state: stateOf(files), message, user };
  const inventory: Inventory = {
    ...{ id, type: SPEC, digestAlgorithm: 'sha512', head },
    manifest: byDigest([...entriesOf(before?.manifest ?? {}), ...content]),
    versions: { ...before?.versions, [head]: version },
    fixity: { sha256: byDigest([...entriesOf(before?.fixity.sha256 ?? {}), ...sha256]) },
  };
  return { inventory, content };
}

/** As it is written: the same inventory gives the same bytes. */
export const inventoryText = (inventory: Inventory): string =>
  `${JSON.stringify(inventory, null, 1)}\n`;

/** Null of bytes that are none, or whose versions do not lead to its head. */
export function inventoryIn(bytes: Uint8Array): Inventory | null {
  try {
    const json: unknown = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
    const inventory = Inventory.safeParse(json).data;
    if (!inventory) return null;
    const isWhole = Array.from(
      { length: versionOf(inventory) },
      (_, i) => inventory.versions[`v${i + 1}`],
    ).every(Boolean);
    return isWhole ? inventory : null;
  } catch {
    return null;
  }
}

/** Of the newest version: each path with its digest and where its bytes lie. */
export function newestFiles({ manifest, versions, head }: Inventory) {
  return entriesOf(versions[head]!.state).map(([sha512, at]) => ({
    ...{ path: at, sha512, content: manifest[sha512]?.[0] ?? '' },
  }));
}

/** Every file with bytes, of all versions, with its digest. */
export const contentFiles = ({ manifest }: Inventory) =>
  entriesOf(manifest).map(([sha512, content]) => ({ sha512, content }));
