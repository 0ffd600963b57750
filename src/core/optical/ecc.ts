/**
 * The error correction of CD sectors (ECMA-130, annex A): a product code over GF(2⁸), x⁸ + x⁴ +
 * x³ + x² + 1, of bytes 12 to 2351. P: 86 words of 26 bytes, each an error or two erasures; Q: 52
 * words of 45, along the diagonals, over P too.
 */

const DATA = 12;
const P_COLUMNS = 86;
const P_LENGTH = 26;
const Q_WORDS = 52;
const Q_LENGTH = 45;

const EXP = new Uint8Array(510);
const LOG = new Uint8Array(256);
for (let i = 0, value = 1; i < 255; i++) {
  EXP[i] = EXP[i + 255] = value;
  LOG[value] = i;
  value = (value << 1) ^ (value & 0x80 ? 0x11d : 0);
}
const TWICE = Uint8Array.from(
  { length: 256 },
  (_, value) => ((value << 1) ^ (value & 0x80 ? 0x1d : 0)) & 0xff,
);

const multiply = (a: number, b: number) => (a === 0 || b === 0 ? 0 : EXP[LOG[a]! + LOG[b]!]!);
const divide = (a: number, b: number) => (a === 0 ? 0 : EXP[LOG[a]! + 255 - LOG[b]!]!);

/** Places in the sector of every word's bytes, in the order of the code: P, then Q. */
const P_PLACES: Uint16Array[] = Array.from({ length: P_COLUMNS }, (_, column) =>
  Uint16Array.from({ length: P_LENGTH }, (_unused, i) => DATA + P_COLUMNS * i + column),
);
const Q_PLACES: Uint16Array[] = Array.from({ length: Q_WORDS }, (_, word) =>
  Uint16Array.from({ length: Q_LENGTH }, (_unused, i) => {
    const [diagonal, lane] = [word >> 1, word & 1];
    return (
      DATA +
      (i < 43 ? 2 * ((44 * i + 43 * diagonal) % 1118) : 2 * (1118 + 26 * (i - 43) + diagonal)) +
      lane
    );
  }),
);

const sums = new Uint8Array(P_COLUMNS);
const weighted = new Uint8Array(P_COLUMNS);

/** How many P words are words of the code: row by row, for all columns together. */
function pThatHold(sector: Uint8Array): number {
  sums.fill(0);
  weighted.fill(0);
  for (let row = 0, at = DATA; row < P_LENGTH; row++) {
    for (let column = 0; column < P_COLUMNS; column++, at++) {
      const byte = sector[at]!;
      sums[column]! ^= byte;
      weighted[column] = TWICE[weighted[column]!]! ^ byte;
    }
  }
  let count = 0;
  for (let column = 0; column < P_COLUMNS; column++)
    if (sums[column] === 0 && weighted[column] === 0) count++;
  return count;
}

/** Whether most of the parity is that of these bytes: a sector that has none seldom has one word. */
export const hasParity = (sector: Uint8Array): boolean => 2 * pThatHold(sector) > P_COLUMNS;

function wordHolds(sector: Uint8Array, places: Uint16Array): boolean {
  let [sum, weight] = [0, 0];
  for (let i = 0; i < places.length; i++) {
    const byte = sector[places[i]!]!;
    sum ^= byte;
    weight = TWICE[weight]! ^ byte;
  }
  return sum === 0 && weight === 0;
}

/** Whether all of the parity is that of these bytes. */
export function parityHolds(sector: Uint8Array): boolean {
  return pThatHold(sector) === P_COLUMNS && Q_PLACES.every((places) => wordHolds(sector, places));
}

/**
 * Puts one word right; 1 where it did, 0 where there was nothing to do, −1 where it can't be done
 * with certainty of its own. In one piece: it runs for each word of each sector, many times.
 */
function mendWord(sector: Uint8Array, places: Uint16Array, distrusted: Uint8Array | null): number {
  let [sum, weight] = [0, 0];
  const n = places.length;
  let [erased, first, second] = [0, -1, -1];
  for (let i = 0; i < n; i++) {
    const place = places[i]!;
    const byte = sector[place]!;
    sum ^= byte;
    weight = TWICE[weight]! ^ byte;
    if (distrusted && distrusted[place]) {
      erased++;
      if (first < 0) first = i;
      else second = i;
    }
  }
  if (sum === 0 && weight === 0) {
    // The bytes are a word of the code: what was distrusted of it was right.
    if (distrusted && erased > 0 && erased <= 2)
      for (let i = 0; i < n; i++) distrusted[places[i]!] = 0;
    return 0;
  }
  if (erased === 2) {
    const [x, y] = [EXP[n - 1 - first]!, EXP[n - 1 - second]!];
    const b = divide(weight ^ multiply(sum, x), x ^ y);
    sector[places[first]!]! ^= sum ^ b;
    sector[places[second]!]! ^= b;
    distrusted![places[first]!] = distrusted![places[second]!] = 0;
    return 1;
  }
  if (erased > 2 || sum === 0 || weight === 0) return -1;
  const at = n - 1 - ((LOG[weight]! + 255 - LOG[sum]!) % 255);
  // With one byte distrusted, an error elsewhere is more than the two checks can tell.
  if (at < 0 || (erased === 1 && at !== first)) return -1;
  sector[places[at]!]! ^= sum;
  if (distrusted) distrusted[places[at]!] = 0;
  return 1;
}

/** Alternations of P and Q at most; a product code settles in a few, or never. */
const MAX_ROUNDS = 24;

/**
 * Mends a sector in place, P and Q in turn until nothing changes. `flags` are 2,352 bytes, not 0
 * where the drive distrusts the sector's; true where every word then holds. Whoever calls holds the
 * result against the EDC.
 */
export function mendParity(sector: Uint8Array, flags: Uint8Array | null): boolean {
  const distrusted = flags ? flags.slice() : null;
  for (let round = 0; round < MAX_ROUNDS; round++) {
    let changed = false;
    let failed = false;
    for (const words of [P_PLACES, Q_PLACES]) {
      failed = false;
      for (const places of words) {
        const result = mendWord(sector, places, distrusted);
        if (result > 0) changed = true;
        else if (result < 0) failed = true;
      }
    }
    if (!changed) return !failed && parityHolds(sector);
  }
  return false;
}

/** Works P and Q out anew from bytes 12 to 2075, which are taken as right. */
export function setParity(sector: Uint8Array): void {
  for (const words of [P_PLACES, Q_PLACES]) {
    for (const places of words) {
      const n = places.length;
      let [sum, weight] = [0, 0];
      for (let i = 0; i < n - 2; i++) {
        const byte = sector[places[i]!]!;
        sum ^= byte;
        weight = TWICE[weight]! ^ byte;
      }
      // The last two have weights α¹ and α⁰; what the others weigh is shifted past them.
      weight = TWICE[TWICE[weight]!]!;
      const first = divide(weight ^ sum, EXP[1]! ^ 1);
      sector[places[n - 2]!] = first;
      sector[places[n - 1]!] = sum ^ first;
    }
  }
}
