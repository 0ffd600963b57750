/**
 * How many bytes of files are read of one image. Files that cross one another, and zeros that are
 * nowhere recorded, can make a small image claim without end.
 */
import type { Problem } from '../problems';
import { said } from '../said';

/** Of a sound image all files together are no more than it, but for what is nowhere recorded. */
const TIMES_THE_IMAGE = 4;
const BESIDE_IT = 2 ** 28;

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
