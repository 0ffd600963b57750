/**
 * Values of sound as bytes hold them, made numbers from −1 to 1: linear of any depth and order,
 * floating point, and the two companded laws of ITU-T G.711.
 */

export type PcmCoding =
  | { kind: 'linear'; bytes: 1 | 2 | 3 | 4; signed: boolean; bigEndian: boolean }
  | { kind: 'float'; bytes: 4 | 8; bigEndian: boolean }
  | { kind: 'a-law' }
  | { kind: 'u-law' };

/** Bytes of one value. */
export const valueBytes = (coding: PcmCoding): number => ('bytes' in coding ? coding.bytes : 1);

const FULL_SCALE = 32_768;

/** A byte of µ-law, of ± 32,124. */
function fromULaw(byte: number): number {
  const v = ~byte & 0xff;
  const exponent = (v >> 4) & 7;
  const size = ((((v & 0x0f) << 3) + 132) << exponent) - 132;
  return v & 0x80 ? -size : size;
}

/** A byte of A-law, of ± 32,256. */
function fromALaw(byte: number): number {
  const a = byte ^ 0x55;
  const exponent = (a >> 4) & 7;
  const mantissa = (a & 0x0f) << 4;
  const size = exponent === 0 ? mantissa + 8 : (mantissa + 264) << (exponent - 1);
  return a & 0x80 ? size : -size;
}

type ValueAt = (at: number) => number;

type Linear = PcmCoding & { kind: 'linear' };

/** What nearly all sounds are: one byte or two. A page that shows and plays them waits for this. */
function shortAt(bytes: Uint8Array, { bytes: width, signed, bigEndian }: Linear): ValueAt {
  if (width === 1)
    return signed ? (at) => ((bytes[at]! << 24) >> 24) / 128 : (at) => (bytes[at]! - 128) / 128;
  const [high, low] = bigEndian ? [0, 1] : [1, 0];
  const turn = signed ? 0 : 0x80;
  return (at) => ((((bytes[at + high]! ^ turn) << 24) >> 16) | bytes[at + low]!) / FULL_SCALE;
}

function linearAt(bytes: Uint8Array, coding: Linear): ValueAt {
  const { bytes: width, signed, bigEndian } = coding;
  if (width <= 2) return shortAt(bytes, coding);
  const half = 2 ** (8 * width - 1);
  return (at) => {
    let value = 0;
    for (let i = 0; i < width; i++)
      value = value * 256 + bytes[at + (bigEndian ? i : width - 1 - i)]!;
    const centred = signed ? (value < half ? value : value - 2 * half) : value - half;
    return centred / half;
  };
}

function valueAt(bytes: Uint8Array, coding: PcmCoding): ValueAt {
  if (coding.kind === 'linear') return linearAt(bytes, coding);
  if (coding.kind === 'a-law') return (at) => fromALaw(bytes[at]!) / FULL_SCALE;
  if (coding.kind === 'u-law') return (at) => fromULaw(bytes[at]!) / FULL_SCALE;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const isLittle = !coding.bigEndian;
  const number =
    coding.bytes === 4
      ? (at: number) => view.getFloat32(at, isLittle)
      : (at: number) => view.getFloat64(at, isLittle);
  return (at) => {
    const value = number(at);
    return Number.isFinite(value) ? value : 0;
  };
}

/** All values in order; what is left of one at the end is none. */
export function valuesOf(bytes: Uint8Array, coding: PcmCoding): Float64Array {
  const width = valueBytes(coding);
  const at = valueAt(bytes, coding);
  const values = new Float64Array(Math.floor(bytes.length / width));
  for (let i = 0; i < values.length; i++) values[i] = at(i * width);
  return values;
}

/** The mean of the channels of each frame. */
export function monoOf(values: Float64Array, channels: number): Float64Array {
  if (channels === 1) return values;
  const frames = Math.floor(values.length / channels);
  const mono = new Float64Array(frames);
  for (let frame = 0; frame < frames; frame++) {
    let sum = 0;
    for (let channel = 0; channel < channels; channel++) sum += values[frame * channels + channel]!;
    mono[frame] = sum / channels;
  }
  return mono;
}
