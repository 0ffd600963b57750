/**
 * How many bytes of files are read of one image. Files that cross one another, and zeros that are
 * nowhere recorded, can make a small image claim without end.
 */
import type { Problem } from '../problems';
import { said } from '../said';
import type { VolumeEntry } from './volume';

/** Of a sound image all files together are no more than it, but for what is nowhere recorded. */
const TIMES_THE_IMAGE = 4;
const BESIDE_IT = 2 ** 28;

/** Times that all units of a volume together may be followed as another file's too. */
export const MOST_TIMES_CROSSED = 8;

export class ReadingBudget {
  /** Files that were refused. */
  refused = 0;
  private left: number;

  constructor(imageBytes: number) {
    this.left = imageBytes * TIMES_THE_IMAGE + BESIDE_IT;
  }

  /** Whether so many bytes may still be read. */
  take(bytes: number): boolean {
    if (bytes > this.left) {
      this.refused++;
      return false;
    }
    this.left -= bytes;
    return true;
  }
}

function placesKey({ bytes, packedBytes, extents }: VolumeEntry): string {
  const places = extents.map(({ offset, length }) => `${offset}+${length}`);
  return `${bytes}/${packedBytes ?? ''}/${places.join()}`;
}

/**
 * What is found out of the files of one volume by reading them whole: of those that lie at the same
 * places once. Extents count from the volume's own beginning, so that two volumes never share it.
 */
export class ReadOnce<T> {
  private readonly known = new Map<string, T | null>();

  constructor(private readonly budget: ReadingBudget) {}

  /** Null of what the budget leaves out. */
  async of(entry: VolumeEntry, read: () => Promise<T>): Promise<T | null> {
    const key = placesKey(entry);
    const before = this.known.get(key);
    if (before !== undefined) return before;
    const found = this.budget.take(entry.bytes) ? await read() : null;
    this.known.set(key, found);
    return found;
  }
}

/** What is told of files that were left out. */
export const leftOutProblems = (count: number): Problem[] =>
  count === 0
    ? []
    : [
        {
          kind: 'too-many-entries',
          offset: null,
          said: said('volume.filesWereNotRead', { count }),
        },
      ];
