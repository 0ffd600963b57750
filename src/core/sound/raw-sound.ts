/**
 * Bytes heard as they lie, where nothing says what they are: depth, sign, order, channels and rate
 * are what a person sets. Without loss they become the linear PCM of a WAV.
 */
import { z } from 'zod';
import { valuesOf, type PcmCoding } from './pcm';
import { wavHeader } from './wav/header';
import { isTurnedInWav, leastFirst, turnSigns } from './wav/plain-data';

/** How values lie in bytes; `12-packed` has two in three bytes. */
export const RAW_VALUES = Object.freeze([
  '8',
  '12-packed',
  '16',
  '24',
  '32',
  'a-law',
  'u-law',
] as const);

export const RawSettings = z.strictObject({
  values: z.enum(RAW_VALUES),
  isSigned: z.boolean(),
  isBigEndian: z.boolean(),
  channels: z.union([z.literal(1), z.literal(2)]),
  /** Frames a second. */
  rateHz: z.int().min(500).max(192_000),
  /** Bytes before the first value. */
  skip: z
    .int()
    .min(0)
    .max(2 ** 32),
});
export type RawSettings = z.infer<typeof RawSettings>;

/** As most that lies on disks of the time without a header. */
export const FIRST_SETTINGS: RawSettings = Object.freeze({
  values: '8',
  isSigned: false,
  isBigEndian: false,
  channels: 1,
  rateHz: 22_050,
  skip: 0,
});

interface Pcm {
  bits: 8 | 16 | 24 | 32;
  /** Whole frames as a WAV has them: 8 bits unsigned, more of them signed and least byte first. */
  data: Uint8Array<ArrayBuffer>;
}

/** Two values of twelve bits in three bytes, each made sixteen by four zeros below. */
function unpacked12(bytes: Uint8Array, isBigEndian: boolean): Uint8Array<ArrayBuffer> {
  const pairs = Math.floor(bytes.length / 3);
  const view = new DataView(new ArrayBuffer(4 * pairs));
  for (let pair = 0; pair < pairs; pair++) {
    const [a, b, c] = [bytes[3 * pair]!, bytes[3 * pair + 1]!, bytes[3 * pair + 2]!];
    const first = isBigEndian ? (a << 4) | (b >> 4) : a | ((b & 15) << 8);
    const second = isBigEndian ? ((b & 15) << 8) | c : (b >> 4) | (c << 4);
    view.setUint16(4 * pair, first << 4, true);
    view.setUint16(4 * pair + 2, second << 4, true);
  }
  return new Uint8Array(view.buffer);
}

/** Values of a companded law, as sixteen bits. */
function expanded(bytes: Uint8Array, kind: 'a-law' | 'u-law'): Uint8Array<ArrayBuffer> {
  const values = valuesOf(bytes, { kind });
  return new Uint8Array(Int16Array.from(values, (value) => Math.round(value * 32_768)).buffer);
}

const WIDTHS = { '8': 1, '16': 2, '24': 3, '32': 4 } as const;

function pcmOf(bytes: Uint8Array, settings: RawSettings): Pcm {
  const { values, isSigned, isBigEndian, channels, skip } = settings;
  const own = bytes.subarray(Math.min(skip, bytes.length));
  if (values === 'a-law' || values === 'u-law')
    return whole({ bits: 16, data: expanded(own, values) }, channels);
  const is12 = values === '12-packed';
  const width = is12 ? 2 : WIDTHS[values];
  const ordered = is12
    ? unpacked12(own, isBigEndian)
    : isBigEndian
      ? leastFirst(own, width)
      : own.slice();
  if (isTurnedInWav(isSigned, width)) turnSigns(ordered, width);
  return whole({ bits: (8 * width) as Pcm['bits'], data: ordered }, channels);
}

function whole({ bits, data }: Pcm, channels: number): Pcm {
  const frameBytes = (bits / 8) * channels;
  return { bits, data: data.subarray(0, data.length - (data.length % frameBytes)) };
}

/** Values from −1 to 1, the channels of each frame one after the other. */
export function rawValues(bytes: Uint8Array, settings: RawSettings): Float64Array {
  const { bits, data } = pcmOf(bytes, settings);
  const width = (bits / 8) as 1 | 2 | 3 | 4;
  const coding: PcmCoding = { kind: 'linear', bytes: width, signed: bits > 8, bigEndian: false };
  return valuesOf(data, coding);
}

/** Throws RangeError beyond what a WAV holds. */
export function rawWav(bytes: Uint8Array, settings: RawSettings): Uint8Array<ArrayBuffer> {
  const { bits, data } = pcmOf(bytes, settings);
  const { channels, rateHz: rate } = settings;
  const padding = data.length % 2;
  const head = wavHeader(data.length, { channels, rate, bits }, padding);
  const wav = new Uint8Array(head.length + data.length + padding);
  wav.set(head);
  wav.set(data, head.length);
  return wav;
}
