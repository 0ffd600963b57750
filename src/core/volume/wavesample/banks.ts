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
