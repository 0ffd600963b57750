/**
 * The banks of a wavesample floppy (80 × 5 × 1024 + 512): where each lies in the image, and the waves
 * that runs of zeros part its samples into.
 */
import type { ByteSource } from '@/core/bits/byte-source';

const SECTORS = 5;
export const SECTOR = 1024;
export const TRACK = SECTORS * SECTOR + 512;
const TRACKS = 80;
export const BANKS = Object.freeze([
  'lower-1',
  'upper-1',
  'lower-2',
  'upper-2',
  'lower-3',
  'upper-3',
] as const);
export const FIRST_TRACK = 2;
const TRACKS_OF_BANK = 13;
export const SAMPLES = 65_536;
/** The least value that a wave may have in a bank: 00h stops it. */
export const LEAST = 1;
/** Zeros in a row that part two waves. */
export const PART = 256;
export const WAVESAMPLE_BYTES = TRACKS * TRACK;

/** Where byte `at` of a bank lies in the image; its samples begin behind `SECTOR` bytes. */
export function placeOf(bank: number, at: number): number {
  const sector = Math.floor(at / SECTOR);
  const track = FIRST_TRACK + bank * TRACKS_OF_BANK + Math.floor(sector / SECTORS);
  return track * TRACK + (sector % SECTORS) * SECTOR + (at % SECTOR);
}

/** The samples of a bank; zeros where the image ends before them. */
export async function samplesOf(source: ByteSource, bank: number): Promise<Uint8Array> {
  const first = FIRST_TRACK + bank * TRACKS_OF_BANK;
  const tracks = await source.read(first * TRACK, TRACKS_OF_BANK * TRACK);
  const all = new Uint8Array(SECTOR + SAMPLES);
  for (let track = 0; track * TRACK < tracks.length && track < TRACKS_OF_BANK; track++)
    all.set(
      tracks
        .subarray(track * TRACK, track * TRACK + SECTORS * SECTOR)
        .subarray(0, all.length - track * SECTORS * SECTOR),
      track * SECTORS * SECTOR,
    );
  return all.subarray(SECTOR);
}

/** The samples of a bank of a whole image, copied. */
export function bankOf(image: Uint8Array, bank: number): Uint8Array {
  const own = new Uint8Array(SAMPLES);
  for (let at = 0; at < SAMPLES; at += SECTOR) {
    const place = placeOf(bank, SECTOR + at);
    own.set(image.subarray(place, place + SECTOR), at);
  }
  return own;
}

/** Writes the samples of a bank back into its image. */
export function setBank(image: Uint8Array, bank: number, samples: Uint8Array): void {
  for (let at = 0; at < SAMPLES; at += SECTOR)
    image.set(samples.subarray(at, at + SECTOR), placeOf(bank, SECTOR + at));
}

/**
 * Where wave `number` (from one) begins among a bank's samples, and up to where it may reach; null
 * where there is none of that number, nor would it be the next.
 */
export function placeOfWave(
  waves: readonly (readonly [number, number])[],
  number: number,
): { from: number; until: number } | null {
  if (number < 1 || number > waves.length + 1) return null;
  const there = waves[number - 1];
  const before = waves[number - 2];
  const next = waves[number];
  const from = there ? there[0] : before ? before[1] + PART : 0;
  return { from, until: next ? next[0] - PART : SAMPLES };
}

/** Samples free behind the last wave of each bank, all banks together. */
export const freeBehind = (banks: readonly (readonly (readonly [number, number])[])[]): number =>
  banks
    .map((waves) => waves.at(-1))
    .reduce((sum, last) => sum + (last ? Math.max(0, SAMPLES - last[1] - PART) : SAMPLES), 0);

/** Waves of a bank: [from, to) in its samples. */
export function wavesOf(samples: Uint8Array): [number, number][] {
  const waves: [number, number][] = [];
  let start = -1;
  let zeros = 0;
  for (let i = 0; i <= samples.length; i++) {
    const silent = i === samples.length || samples[i] === 0;
    if (!silent) {
      if (start < 0) start = i;
      zeros = 0;
      continue;
    }
    zeros++;
    if (start >= 0 && (zeros >= PART || i === samples.length)) {
      waves.push([start, i - zeros + 1]);
      start = -1;
    }
  }
  return waves;
}
