/** What is on a volume in an image: its files and folders with the digests of their content. */
import { toHex, type Digester } from '../digester';
import { identifyVolumes } from '../identify/identify';
import { volumeOfBlank } from '../identify/writable-volume';
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import type { Volume } from '../volume/volume';
import type { Listed } from './changes';

export interface ListedVolume {
  problems: readonly Problem[];
  label: string | null;
  entries: (Listed & { modified: string | null })[];
}

async function volumeFoundIn(image: ByteSource): Promise<Volume | null> {
  const { volumes } = await identifyVolumes(image);
  const found = volumes.find(({ partition, offset }) => partition === null && offset === 0);
  return found?.volume ?? null;
}

/**
 * The volume of an image, whole, as its own system lists it; nothing of one on which nothing tells
 * what it is, unless it was begun as a blank of a `kind`. `digester` null leaves the content alone.
 */
export async function listVolume(
  image: ByteSource,
  digester: Digester | null,
  kind: string | null,
): Promise<ListedVolume> {
  const volume = (kind && (await volumeOfBlank(image, kind))) || (await volumeFoundIn(image));
  if (!volume) return { problems: [], label: null, entries: [] };
  const entries: ListedVolume['entries'] = [];
  for (const entry of volume.entries) {
    if (entry.deleted) continue;
    const { path, kind, bytes, type, locked, modified } = entry;
    const digest =
      digester && kind === 'file' ? toHex(digester.sha256(await volume.read(entry))) : null;
    entries.push({ path, kind, bytes, type, locked, modified, digest });
  }
  return { problems: volume.problems, label: volume.label, entries };
}
