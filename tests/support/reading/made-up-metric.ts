import type { CellMetric } from '@/core/reading/together/cell-metric';
import { seededRandom } from '@/core/bits/random';

/** A metric of made-up figures, which favours nothing. */
export function madeUpMetric(seed: string, cells: number, kinds: number): CellMetric {
  const random = seededRandom(seed);
  const values = Float32Array.from({ length: cells * kinds * kinds }, () => 4 * random.normal());
  return { from: 0, cells, kinds, values };
}
