/**
 * The least and the greatest of any stretch of a sound, at once: those of every block are kept, and
 * those of blocks of blocks, up to the whole.
 */

const FACTOR = 16;

interface Level {
  /** Frames that each entry stands for. */
  frames: number;
  least: Float32Array;
  most: Float32Array;
}

export class Peaks {
  private readonly levels: Level[] = [];

  constructor(private readonly values: Float32Array) {
    let below: Level = { frames: 1, least: values, most: values };
    while (below.least.length > FACTOR) {
      below = levelAbove(below);
      this.levels.push(below);
    }
  }

  /** Of frames `from` up to `to`, at least one of them; both 0 where there is none. */
  between(from: number, to: number): { least: number; most: number } {
    const first = Math.max(0, Math.floor(from));
    const end = Math.min(this.values.length, Math.max(first + 1, Math.ceil(to)));
    if (first >= end) return { least: 0, most: 0 };
    let least = Infinity;
    let most = -Infinity;
    for (let at = first; at < end;) {
      const level = this.widestFrom(at, end);
      const entry = level ? at / level.frames : at;
      least = Math.min(least, (level?.least ?? this.values)[entry]!);
      most = Math.max(most, (level?.most ?? this.values)[entry]!);
      at += level?.frames ?? 1;
    }
    return { least, most };
  }

  /** The level with the longest whole block that begins here; null for single frames. */
  private widestFrom(at: number, end: number): Level | null {
    let widest: Level | null = null;
    for (const level of this.levels) {
      if (at % level.frames !== 0 || at + level.frames > end) break;
      widest = level;
    }
    return widest;
  }
}

function levelAbove({ frames, least, most }: Level): Level {
  const count = Math.ceil(least.length / FACTOR);
  const above = {
    frames: frames * FACTOR,
    least: new Float32Array(count),
    most: new Float32Array(count),
  };
  for (let i = 0; i < count; i++) {
    let low = Infinity;
    let high = -Infinity;
    for (let k = i * FACTOR; k < Math.min(least.length, (i + 1) * FACTOR); k++) {
      low = Math.min(low, least[k]!);
      high = Math.max(high, most[k]!);
    }
    above.least[i] = low;
    above.most[i] = high;
  }
  return above;
}
