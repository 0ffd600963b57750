/**
 * What is known of a sector. The words and their order are the project's own; `docs/words.md`
 * defines them.
 */

export const GRADES = Object.freeze(['firm', 'mended', 'doubtful', 'lost', 'unread'] as const);
export type Grade = (typeof GRADES)[number];

export type Tally = Record<Grade, number>;

export function emptyTally(): Tally {
  return { firm: 0, mended: 0, doubtful: 0, lost: 0, unread: 0 };
}

export function tallyOf(grades: Iterable<Grade>): Tally {
  const tally = emptyTally();
  for (const grade of grades) tally[grade]++;
  return tally;
}

/** Sound: its bytes passed a check. */
export function isSound(grade: Grade): boolean {
  return grade === 'firm' || grade === 'mended';
}
