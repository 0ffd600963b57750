/**
 * Looks for many patterns at once in a stream of bytes: each by two bytes of its own that stand
 * side by side.
 */
import type { ByteSource } from '../bits/byte-source';

interface Match {
  /** Which of the patterns. */
  pattern: number;
  offset: number;
}

interface MatchResult {
  matches: Match[];
  /** Patterns that matched more often than is listed, with how often altogether. */
  more: { pattern: number; count: number }[];
}

/** Matches listed of one pattern. */
export const MAX_MATCHES = 1000;
const CHUNK = 1 << 20;

export class Matcher {
  /** Patterns by the pair of bytes that they are looked for by; −1 ends a chain. */
  private readonly first = new Int32Array(65536).fill(-1);
  private readonly next: Int32Array;
  /** Where in its pattern the pair stands. */
  private readonly anchors: Int32Array;
  private readonly longest: number;

  /**
   * Each pattern has at least two given bytes side by side, or one of a search with a single byte
   * given.
   */
  constructor(private readonly patterns: readonly Int16Array[]) {
    const pairs: { pair: number; pattern: number; anchor: number }[] = [];
    for (const [i, pattern] of patterns.entries()) {
      const anchor = bestPair(pattern);
      if (anchor >= 0)
        pairs.push({ pair: (pattern[anchor]! << 8) | pattern[anchor + 1]!, pattern: i, anchor });
      else {
        const single = pattern.findIndex((byte) => byte >= 0);
        if (single < 0 || pattern.length < 2) continue;
        // No pair is given: the one byte with every neighbour.
        for (let other = 0; other < 256; other++)
          pairs.push(
            single + 1 < pattern.length
              ? { pair: (pattern[single]! << 8) | other, pattern: i, anchor: single }
              : { pair: (other << 8) | pattern[single]!, pattern: i, anchor: single - 1 },
          );
      }
    }
    this.next = new Int32Array(pairs.length);
    this.anchors = Int32Array.from(pairs, ({ anchor }) => anchor);
    this.which = Int32Array.from(pairs, ({ pattern }) => pattern);
    for (const [i, { pair }] of pairs.entries()) {
      this.next[i] = this.first[pair]!;
      this.first[pair] = i;
    }
    this.longest = Math.max(2, ...patterns.map(({ length }) => length));
  }

  private readonly which: Int32Array;

  /** Every place of every pattern, overlapping ones too. */
  async search(source: ByteSource, end = source.size): Promise<MatchResult> {
    const matches: Match[] = [];
    const counts = new Map<number, number>();
    const found = (pattern: number, offset: number) => {
      const count = (counts.get(pattern) ?? 0) + 1;
      counts.set(pattern, count);
      if (count <= MAX_MATCHES) matches.push({ pattern, offset });
    };
    const stop = Math.min(end, source.size);
    for (let start = 0; start < stop; start += CHUNK) {
      // What begins in this chunk may end behind it.
      const bytes = await source.read(start, Math.min(CHUNK + this.longest, stop - start));
      this.searchBytes(bytes, Math.min(CHUNK, stop - start), start, found);
    }
    matches.sort((a, b) => a.offset - b.offset || a.pattern - b.pattern);
    return {
      matches,
      more: [...counts]
        .filter(([, count]) => count > MAX_MATCHES)
        .map(([pattern, count]) => ({ pattern, count })),
    };
  }

  private searchBytes(
    bytes: Uint8Array,
    starts: number,
    base: number,
    found: (pattern: number, offset: number) => void,
  ): void {
    const { first, next, anchors, which, patterns } = this;
    const last = bytes.length - 1;
    let pair = bytes[0] ?? 0;
    for (let at = 0; at < last; at++) {
      pair = ((pair << 8) | bytes[at + 1]!) & 0xffff;
      for (let i = first[pair]!; i >= 0; i = next[i]!) {
        const start = at - anchors[i]!;
        if (start >= 0 && start < starts && fits(bytes, start, patterns[which[i]!]!))
          found(which[i]!, base + start);
      }
    }
  }
}

function fits(bytes: Uint8Array, start: number, pattern: Int16Array): boolean {
  if (start + pattern.length > bytes.length) return false;
  for (let i = 0; i < pattern.length; i++)
    if (pattern[i]! >= 0 && pattern[i] !== bytes[start + i]) return false;
  return true;
}

/** The pair least likely to stand anywhere: not two zeros, not two of the same. */
function bestPair(pattern: Int16Array): number {
  let best = -1;
  let bestWorth = -1;
  for (let i = 0; i + 1 < pattern.length; i++) {
    const [a, b] = [pattern[i]!, pattern[i + 1]!];
    if (a < 0 || b < 0) continue;
    const worth = Number(a !== b) + Number(a !== 0 && a !== 0xff) + Number(b !== 0 && b !== 0xff);
    if (worth > bestWorth) {
      best = i;
      bestWorth = worth;
    }
  }
  return best;
}
