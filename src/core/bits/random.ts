/**
 * A small seeded generator, for made-up media and their ageing only: the same seed gives the same
 * disk.
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

export function seededRandom(seed: string | number): Random {
  let state = typeof seed === 'number' ? seed >>> 0 : hashText(seed);
  const next = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
  // Box–Muller gives two at a time.
  let spare: number | null = null;
  const normal = () => {
    if (spare !== null) {
      const kept = spare;
      spare = null;
      return kept;
    }
    const radius = Math.sqrt(-2 * Math.log(1 - next()));
    const turn = 2 * Math.PI * next();
    spare = radius * Math.sin(turn);
    return radius * Math.cos(turn);
  };
  return {
    next,
    below: (limit) => Math.floor(next() * limit),
    normal,
  };
}
