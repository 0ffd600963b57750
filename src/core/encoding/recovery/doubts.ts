/** The places of a softly read field that are least certain. */
import type { SoftDoubt } from '../encoding';

/** One wrong transition shows at a few places next to each other; they count as one. */
const APART = 4;

/** Up to `most` places by rising margin, none next to another. */
export function leastCertain(margins: Float32Array, most: number): SoftDoubt[] {
  const order = Array.from(margins.keys()).sort((a, b) => margins[a]! - margins[b]!);
  const doubts: SoftDoubt[] = [];
  for (const place of order) {
    if (doubts.every((doubt) => Math.abs(doubt.place - place) >= APART))
      doubts.push({ place, margin: margins[place]! });
    if (doubts.length === most) break;
  }
  return doubts;
}

/** Places that `readField` names. */
export const DOUBTS_NAMED = 16;
