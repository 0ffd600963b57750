/**
 * Where partitions lie by cylinder, head and sector, as old systems looked for them, held against
 * where they lie by number. No geometry is recorded: it is the one that most of the places fit.
 */

/** A place by cylinder, head and sector; null where it says none, or one out of reach. */
type Place = readonly [cylinder: number, head: number, sector: number] | null;

interface PlacedRecord {
  number: number;
  start: number;
  sectors: number;
  /** The three bytes of its first and of its last place. */
  first: number;
  last: number;
}

/** The most that three bytes can say; larger disks have it everywhere. */
const LAST_CYLINDER = 1023;
const MOST_SECTORS = 63;
const MOST_HEADS = 255;

function placeOf(bytes: number): Place {
  const head = bytes & 0xff;
  const sector = (bytes >> 8) & 0x3f;
  const cylinder = (bytes >> 16) | (((bytes >> 8) & 0xc0) << 2);
  return sector === 0 || cylinder >= LAST_CYLINDER ? null : [cylinder, head, sector];
}

interface Claim {
  number: number;
  place: NonNullable<Place>;
  /** The sector that it should be. */
  is: number;
}

const claimOf = (number: number, bytes: number, is: number): Claim[] => {
  const place = placeOf(bytes);
  return place ? [{ number, place, is }] : [];
};

/** Numbers of the partitions that lie elsewhere by their places than by their numbers. */
export function elsewhereByPlaces(records: readonly PlacedRecord[]): number[] {
  const all = records.flatMap(({ number, start, sectors, first, last }) => [
    ...claimOf(number, first, start),
    ...claimOf(number, last, start + sectors - 1),
  ]);
  const leastSectors = Math.max(1, ...all.map(({ place }) => place[2]));
  const leastHeads = Math.max(0, ...all.map(({ place }) => place[1])) + 1;
  let fewest = all;
  for (let sectors = leastSectors; sectors <= MOST_SECTORS; sectors++)
    for (let heads = leastHeads; heads <= MOST_HEADS && fewest.length > 0; heads++) {
      const wrong = all.filter(
        ({ place: [c, h, s], is }) => (c * heads + h) * sectors + s - 1 !== is,
      );
      if (wrong.length < fewest.length) fewest = wrong;
    }
  return [...new Set(fewest.map(({ number }) => number))];
}
