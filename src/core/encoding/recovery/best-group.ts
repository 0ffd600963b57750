/**
 * Group codes read softly: groups do not depend on each other, so of each the pattern that fits its
 * cells best is taken.
 */

interface SoftGroups {
  /** Index of the chosen pattern of each group. */
  chosen: Uint8Array;
  /** By how much it is better than the second best. */
  margins: Float32Array;
}

/**
 * `patterns` are the valid groups of `width` cells, first cell highest; `flips` names groups of
 * which the second best is taken.
 */
export function bestGroups(
  cells: Float32Array,
  count: number,
  patterns: readonly number[],
  width: number,
  flips: readonly number[],
): SoftGroups {
  const chosen = new Uint8Array(count);
  const margins = new Float32Array(count);
  const flipped = new Set(flips);
  for (let group = 0; group < count; group++) {
    const base = group * width;
    let best = -Infinity;
    let second = -Infinity;
    let bestAt = 0;
    let secondAt = 0;
    for (let i = 0; i < patterns.length; i++) {
      let gain = 0;
      for (let cell = 0; cell < width; cell++)
        if ((patterns[i]! >>> (width - 1 - cell)) & 1) gain += cells[base + cell]!;
      if (gain > best) {
        second = best;
        secondAt = bestAt;
        best = gain;
        bestAt = i;
      } else if (gain > second) {
        second = gain;
        secondAt = i;
      }
    }
    chosen[group] = flipped.has(group) ? secondAt : bestAt;
    margins[group] = best - second;
  }
  return { chosen, margins };
}
