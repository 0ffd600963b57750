/** Digests of the files of one image: what lies at the same places is read once, and not without end. */
import { toHex } from '@/core/digester';
import { ReadingBudget } from '@/core/volume/reading-budget';
import { isWhole, placesKey, type Volume, type VolumeEntry } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';

export class FileDigests {
  private readonly known = new Map<string, string | null>();
  private readonly budget: ReadingBudget;

  constructor(imageBytes: number) {
    this.budget = new ReadingBudget(imageBytes);
  }

  /** Files left out, since reading them all would never end. */
  get leftOut(): number {
    return this.budget.refused;
  }

  /** Null of what is cut, and of what is left out. */
  async of(volume: Volume, entry: VolumeEntry): Promise<string | null> {
    if (!isWhole(entry)) return null;
    const key = placesKey(entry);
    const before = this.known.get(key);
    if (before !== undefined) return before;
    const digest = this.budget.take(entry.bytes) ? await this.read(volume, entry) : null;
    this.known.set(key, digest);
    return digest;
  }

  private async read(volume: Volume, entry: VolumeEntry): Promise<string> {
    const hash = nodeDigester.sha256Stream();
    for await (const bytes of volume.stream(entry)) hash.update(bytes);
    return toHex(hash.digest());
  }
}
