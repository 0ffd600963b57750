/** Sound as signed values of 16 bits, least byte first, with dither only where bits are lost by it. */
import type { Random } from '../bits/random';

const FULL = 32_768;

/**
 * Values from −1 to 1 as the bytes of whole numbers. `random` dithers by two equal numbers summed,
 * one step to each side; null leaves it out.
 */
export function toSixteenBit(values: Float64Array, random: Random | null): Uint8Array {
  const bytes = new Uint8Array(2 * values.length);
  const view = new DataView(bytes.buffer);
  for (const [i, value] of values.entries()) {
    const dither = random ? random.next() + random.next() - 1 : 0;
    const whole = Math.max(-FULL, Math.min(FULL - 1, Math.round(value * FULL + dither)));
    view.setInt16(2 * i, whole, true);
  }
  return bytes;
}
