/**
 * A small seeded generator, for made-up media, their ageing, and dither: the same seed gives the
 * same disk, and the same sound.
 * Mulberry32 seeded through a 32-bit FNV-1a of a text, so that parts of a disk draw from streams
 * of their own.
 */

export interface Random {
  /** Uniform in [0, 1). */
  next(): number;
  /** Uniform integer in [0, below). */
  below(limit: number): number;
  /** Normal, mean 0, deviation 1 (Box–Muller). */
  normal(): number;
}

/** FNV-1a, 32 bits, over UTF-16 code units. */
export function hashText(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}

const TAU = 2 * Math.PI;
/** Of the sine's series, by odd powers of a share of a turn: right to 1 in 10¹¹ within a quarter. */
const [C1, C3, C5, C7, C9, C11, C13, C15] = [1, 3, 5, 7, 9, 11, 13, 15].map((power) => {
  let term = power % 4 === 1 ? 1 : -1;
  for (let i = 1; i <= power; i++) term *= TAU / i;
  return term;
}) as [number, number, number, number, number, number, number, number];

/** The sine of a number of turns: media are aged by the hundred million, and this is quick. */
export function sineOfTurn(turns: number): number {
  let x = turns - Math.round(turns);
  if (x > 0.25) x = 0.5 - x;
  else if (x < -0.25) x = -0.5 - x;
  const t = x * x;
  return x * (C1 + t * (C3 + t * (C5 + t * (C7 + t * (C9 + t * (C11 + t * (C13 + t * C15)))))));
}

export function seededRandom(seed: string | number): Random {
  let state = typeof seed === 'number' ? seed >>> 0 : hashText(seed);
  const next = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
  // Box–Muller gives two at a time; the second waits where no number is allocated for it.
  const spare = new Float64Array(1);
  let hasSpare = false;
  const normal = () => {
    hasSpare = !hasSpare;
    if (!hasSpare) return spare[0]!;
    const radius = Math.sqrt(-2 * Math.log(1 - next()));
    const turn = next();
    spare[0] = radius * sineOfTurn(turn);
    return radius * sineOfTurn(turn + 0.25);
  };
  return {
    next,
    below: (limit) => Math.floor(next() * limit),
    normal,
  };
}
