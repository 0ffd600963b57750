/** Sound brought down to unsigned values of 8 bits, with dither only where bits are lost by it. */
import type { Random } from '../bits/random';

const CENTRE = 128;
const MOST = 255;

/**
 * Values from −1 to 1 as bytes about 80h. `random` dithers by two equal numbers summed, one step to
 * each side; null leaves it out. `least` is the least byte that may stand.
 */
export function toEightBit(values: Float64Array, random: Random | null, least = 0): Uint8Array {
  return Uint8Array.from(values, (value) => {
    const dither = random ? random.next() + random.next() - 1 : 0;
    return Math.max(least, Math.min(MOST, Math.round(value * CENTRE + dither) + CENTRE));
  });
}
