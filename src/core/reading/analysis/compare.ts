/**
 * What differs, sector by sector, between two readings of one disk or of two disks of the same
 * kind.
 */
import { isSound, type Grade } from '../grades';

export const DIFFERENCES = Object.freeze([
  'same',
  'differ',
  'first-only',
  'second-only',
  'neither',
] as const);
/** Both sound and alike, both sound and not, sound in one only, sound in none. */
export type Difference = (typeof DIFFERENCES)[number];

/** What is compared of a sector, of whichever source. */
export interface ComparedSector {
  cylinder: number;
  head: number;
  r: number;
  size: number;
  grade: Grade;
  data: Uint8Array | null;
}

interface SectorDifference {
  cylinder: number;
  head: number;
  r: number;
  size: number;
  difference: Difference;
  /** First byte that differs, and how many do; of sectors sound in both. */
  firstByte?: number;
  bytes?: number;
}

const keyOf = ({ cylinder, head, r, size }: ComparedSector) => `${cylinder}/${head}/${r}/${size}`;

function bytesApart(a: Uint8Array, b: Uint8Array): { firstByte: number; bytes: number } | null {
  let firstByte = -1;
  let bytes = 0;
  for (let i = 0; i < Math.max(a.length, b.length); i++) {
    if (a[i] === b[i]) continue;
    if (firstByte < 0) firstByte = i;
    bytes++;
  }
  return bytes > 0 ? { firstByte, bytes } : null;
}

/**
 * Every sector that either was read of, in the order of cylinder, head and number. Of several of
 * one number the first counts.
 */
export function compareSectors(
  first: readonly ComparedSector[],
  second: readonly ComparedSector[],
): SectorDifference[] {
  const pairs = new Map<string, [ComparedSector | null, ComparedSector | null]>();
  for (const sector of first)
    if (!pairs.has(keyOf(sector))) pairs.set(keyOf(sector), [sector, null]);
  for (const sector of second) {
    const pair = pairs.get(keyOf(sector));
    if (!pair) pairs.set(keyOf(sector), [null, sector]);
    else pair[1] ??= sector;
  }
  const wasRead = (sector: ComparedSector | null) => sector !== null && sector.grade !== 'unread';
  const sound = (sector: ComparedSector | null) =>
    sector && isSound(sector.grade) ? sector.data : null;
  return [...pairs.values()]
    .filter(([a, b]) => wasRead(a) || wasRead(b))
    .map(([a, b]) => {
      const { cylinder, head, r, size } = (a ?? b)!;
      const place = { cylinder, head, r, size };
      const [mine, theirs] = [sound(a), sound(b)];
      if (!mine || !theirs)
        return {
          ...place,
          difference: mine
            ? ('first-only' as const)
            : theirs
              ? ('second-only' as const)
              : ('neither' as const),
        };
      const apart = bytesApart(mine, theirs);
      return apart
        ? { ...place, difference: 'differ' as const, ...apart }
        : { ...place, difference: 'same' as const };
    })
    .sort((a, b) => a.cylinder - b.cylinder || a.head - b.head || a.r - b.r);
}

export function tallyDifferences(all: readonly SectorDifference[]): Record<Difference, number> {
  const tally = { same: 0, differ: 0, 'first-only': 0, 'second-only': 0, neither: 0 };
  for (const { difference } of all) tally[difference]++;
  return tally;
}
