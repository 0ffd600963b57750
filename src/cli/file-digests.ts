/** Digests of the files of one volume, each read once, out of what may be read of its image. */
import { toHex } from '@/core/digester';
import { ReadOnce, type ReadingBudget } from '@/core/volume/reading-budget';
import { isWhole, type Volume, type VolumeEntry } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';

async function digestOf(volume: Volume, entry: VolumeEntry): Promise<string> {
  const hash = nodeDigester.sha256Stream();
  for await (const bytes of volume.stream(entry)) hash.update(bytes);
  return toHex(hash.digest());
}

/** Gives the digest of a file; null of what is cut, and of what is left out. */
export function digestsOf(
  volume: Volume,
  budget: ReadingBudget,
): (entry: VolumeEntry) => Promise<string | null> {
  const once = new ReadOnce<string>(budget);
  return async (entry) => (isWhole(entry) ? once.of(entry, () => digestOf(volume, entry)) : null);
}
