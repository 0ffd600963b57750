/** Inputs made of sound ones: bytes, numbers, stretches and lengths changed, all by one seed. */
import { seededRandom, type Random } from '@/core/bits/random';

/** Changes of one input, at the most. */
const MOST_CHANGES = 12;
const LONGEST = 4096;
const LONGEST_GROWTH = 65_536;

/** Numbers at which counts, sizes and links break. */
const EDGES = [
  0, 1, 2, 3, 127, 128, 255, 256, 32_767, 32_768, 65_535, 65_536, 0x7fffffff, 0xffffffff,
];

/** A place; as often as not where something stands, for most of an image is zeros. */
function placeIn(bytes: Uint8Array, random: Random): number {
  if (bytes.length === 0) return 0;
  const at = random.below(bytes.length);
  if (random.below(2) === 0) return at;
  for (let i = 0; i < 200_000; i++) {
    const next = (at + i) % bytes.length;
    if (bytes[next] !== 0) return next;
  }
  return at;
}

function putNumber(bytes: Uint8Array, random: Random): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const width = [1, 2, 4][random.below(3)]!;
  const at = placeIn(bytes, random);
  if (at + width > bytes.length) return;
  const near =
    random.below(3) === 0 ? bytes.length >> random.below(12) : EDGES[random.below(EDGES.length)]!;
  const value = near + (random.below(3) - 1) * random.below(2);
  const isLittle = random.below(2) === 0;
  if (width === 1) view.setUint8(at, value & 0xff);
  else if (width === 2) view.setUint16(at, value & 0xffff, isLittle);
  else view.setUint32(at, value >>> 0, isLittle);
}

const lengthOf = (random: Random, most: number) =>
  1 + random.below(1 + random.below(Math.max(1, most)));

type Change = (bytes: Uint8Array, random: Random, other: Uint8Array) => Uint8Array;

const inPlace =
  (change: (bytes: Uint8Array, random: Random) => void): Change =>
  (bytes, random) => {
    if (bytes.length > 0) change(bytes, random);
    return bytes;
  };

const CHANGES: readonly Change[] = [
  inPlace((bytes, random) => {
    bytes[placeIn(bytes, random)] = random.below(256);
  }),
  inPlace((bytes, random) => {
    bytes[placeIn(bytes, random)]! ^= 1 << random.below(8);
  }),
  inPlace(putNumber),
  inPlace(putNumber),
  inPlace((bytes, random) => {
    const at = placeIn(bytes, random);
    bytes.fill(
      [0, 0xff, 0xe5, random.below(256)][random.below(4)]!,
      at,
      at + lengthOf(random, LONGEST),
    );
  }),
  inPlace((bytes, random) => {
    const at = placeIn(bytes, random);
    const end = Math.min(bytes.length, at + lengthOf(random, LONGEST));
    for (let i = at; i < end; i++) bytes[i] = random.below(256);
  }),
  inPlace((bytes, random) => {
    const from = placeIn(bytes, random);
    bytes.copyWithin(placeIn(bytes, random), from, from + lengthOf(random, LONGEST));
  }),
  (bytes, random) => bytes.slice(0, random.below(bytes.length + 1)),
  (bytes, random) => bytes.slice(random.below(Math.min(bytes.length + 1, LONGEST))),
  (bytes, random) => {
    const at = placeIn(bytes, random);
    const put = Uint8Array.from({ length: lengthOf(random, 300) }, () => random.below(256));
    const out = new Uint8Array(bytes.length + put.length);
    out.set(bytes.subarray(0, at));
    out.set(put, at);
    out.set(bytes.subarray(at), at + put.length);
    return out;
  },
  (bytes, random) => {
    const grown = new Uint8Array(bytes.length + random.below(LONGEST_GROWTH));
    grown.set(bytes);
    return grown;
  },
  (bytes, random, other) => {
    const at = placeIn(bytes, random);
    const from = placeIn(other, random);
    bytes.set(
      other.subarray(from, from + Math.min(lengthOf(random, LONGEST), bytes.length - at)),
      at,
    );
    return bytes;
  },
];

/** The input of a seed, made of one of a corpus. */
export function inputOf(corpus: readonly Uint8Array[], seed: string): Uint8Array {
  const random = seededRandom(seed);
  const pick = () => corpus[random.below(corpus.length)]!;
  let bytes: Uint8Array = pick().slice();
  for (let changes = 1 + random.below(MOST_CHANGES); changes > 0; changes--)
    bytes = CHANGES[random.below(CHANGES.length)]!(bytes, random, pick());
  return bytes;
}
