/** An object of a second store as it lies in its folder, looked at without anything of ours. */
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

interface Inventory {
  head: string;
  manifest: Record<string, string[]>;
  versions: Record<string, { state: Record<string, string[]> }>;
}
export const inventoryIn = (at: string) =>
  JSON.parse(readFileSync(join(at, 'inventory.json'), 'utf8')) as Inventory;

const sha512 = (bytes: Uint8Array) => createHash('sha512').update(bytes).digest('hex');

/** As OCFL 1.1 has it: what is missing, too many, or other than its digest. */
export function wrongIn(at: string): string[] {
  const wrong: string[] = [];
  const files = (readdirSync(at, { recursive: true, encoding: 'utf8' }) as string[])
    .filter((path) => /^v\d+\/content\//.test(path))
    .filter((path) => !existsSync(join(at, path, '.')));
  const { manifest, head } = inventoryIn(at);
  const listed = Object.entries(manifest).flatMap(([digest, paths]) =>
    paths.map((path) => [path, digest] as const),
  );
  for (const [path, digest] of listed)
    if (!existsSync(join(at, path)) || sha512(readFileSync(join(at, path))) !== digest)
      wrong.push(path);
  for (const path of files) if (!listed.some(([each]) => each === path)) wrong.push(path);
  for (const where of ['', head]) {
    const text = readFileSync(join(at, where, 'inventory.json'));
    const beside = readFileSync(join(at, where, 'inventory.json.sha512'), 'utf8');
    if (beside !== `${sha512(text)}  inventory.json\n`) wrong.push(`${where}/inventory.json`);
  }
  const versions = readdirSync(at).filter((name) => /^v\d+$/.test(name));
  if (versions.length !== Number(head.slice(1))) wrong.push('versions');
  return wrong;
}

/** Of the newest version: the bytes at a path. */
export function fileIn(at: string, path: string): Buffer {
  const { manifest, versions, head } = inventoryIn(at);
  const [digest] = Object.entries(versions[head]!.state).find(([, paths]) => paths.includes(path))!;
  return readFileSync(join(at, manifest[digest]![0]!));
}

/**
 * Paths that an inventory which belongs to its digest speaks of, and that are not what it says: what
 * is half written may not look whole.
 */
export function halfWrittenIn(at: string): string[] {
  try {
    const text = readFileSync(join(at, 'inventory.json'));
    const beside = readFileSync(join(at, 'inventory.json.sha512'), 'utf8');
    if (beside.slice(0, 128) !== sha512(text)) return [];
  } catch {
    return [];
  }
  return Object.entries(inventoryIn(at).manifest)
    .flatMap(([digest, paths]) => paths.map((path) => [path, digest] as const))
    .filter(
      ([path, digest]) =>
        !existsSync(join(at, path)) || sha512(readFileSync(join(at, path))) !== digest,
    )
    .map(([path]) => path);
}
