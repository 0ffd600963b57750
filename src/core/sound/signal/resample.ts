/**
 * Sound at another rate: each new value is a sum of old ones weighed by a sinc under a Kaiser window
 * (Kaiser and Schafer, 1980), whose cut-off lies under half the lower rate. Images and aliases stay
 * below −80 dB.
 */

/** Zero crossings on each side of the sinc. */
const CROSSINGS = 64;
/** The window's parameter, for about −100 dB beside the passband. */
const BETA = 10;
/** Of the lower rate: half of it, less half of the filter's slope. */
const CUT_OFF = 0.475;
/** Values of the kernel between two crossings; between two of them lies a straight line. */
const STEPS = 2048;

/** The modified Bessel function of the first kind, order 0, by its series. */
function bessel0(x: number): number {
  let term = 1;
  let sum = 1;
  for (let k = 1; term > sum * 1e-17; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

let kernel: Float64Array | null = null;

/** One half of the windowed sinc, `STEPS` values a crossing. */
function kernelOf(): Float64Array {
  kernel ??= Float64Array.from({ length: CROSSINGS * STEPS + 2 }, (_, i) => {
    const x = i / STEPS;
    if (x >= CROSSINGS) return 0;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
    return (sinc * bessel0(BETA * Math.sqrt(1 - (x / CROSSINGS) ** 2))) / bessel0(BETA);
  });
  return kernel;
}

/** How many frames a sound has at another rate. */
export const framesAt = (frames: number, fromHz: number, toHz: number): number =>
  Math.round((frames * toHz) / fromHz);

/** One channel at another rate; the same values where the rates are. */
export function resample(values: Float64Array, fromHz: number, toHz: number): Float64Array {
  if (fromHz === toHz) return values;
  const table = kernelOf();
  // Crossings of the sinc a value of the old rate.
  const density = 2 * CUT_OFF * Math.min(1, toHz / fromHz);
  const reach = CROSSINGS / density;
  const step = fromHz / toHz;
  const out = new Float64Array(framesAt(values.length, fromHz, toHz));
  for (let n = 0; n < out.length; n++) {
    const centre = n * step;
    const from = Math.max(0, Math.ceil(centre - reach));
    const to = Math.min(values.length - 1, Math.floor(centre + reach));
    let sum = 0;
    for (let k = from; k <= to; k++) {
      const at = Math.abs(centre - k) * density * STEPS;
      const whole = Math.floor(at);
      const left = table[whole]!;
      sum += values[k]! * (left + (table[whole + 1]! - left) * (at - whole));
    }
    out[n] = sum * density;
  }
  return out;
}
