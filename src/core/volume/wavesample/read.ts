/**
 * Wavesample floppies (80 × 5 × 1024 + 512): six banks of 8-bit samples, parted into waves by runs
 * of zeros.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { extentVolume, fileEntry, ProblemList } from '../extent-volume';
import { joined } from '../extents';
import type { VolumeArea } from '../record';
import type { Extent, Volume, VolumeEntry } from '../volume';
import { said, type Said } from '@/core/said';
import {
  BANKS,
  FIRST_TRACK,
  PART,
  SAMPLES,
  SECTOR,
  TRACK,
  WAVESAMPLE_BYTES,
  freeBehind,
  placeOf,
  samplesOf,
  wavesOf,
} from './banks';

/**
 * How far samples may lie from their centre in the mean, and one from the next: of noise it is 85.
 */
const MAX_OFF_CENTRE = 24;
const MAX_LEAP = 48;

/** The system and its settings; the banks begin on the third track. */
export const WAVESAMPLE_AREAS: readonly VolumeArea[] = Object.freeze([
  { name: said('areas.systemArea'), offset: 0, length: FIRST_TRACK * TRACK },
]);

interface WavesampleEvidence {
  confidence: number;
  reasons: Said[];
}

/** Only its size and the look of its samples speak for it, so it comes last. */
export async function probeWavesample(source: ByteSource): Promise<WavesampleEvidence | null> {
  if (source.size !== WAVESAMPLE_BYTES) return null;
  const sounding = await firstSounding(source);
  if (!sounding) return null;
  const mean = sounding.reduce((sum, byte) => sum + byte, 0) / sounding.length;
  // Noise has the same mean; only sound goes from one sample to the next without leaping.
  let leaps = 0;
  for (let i = 1; i < sounding.length; i++) leaps += Math.abs(sounding[i]! - sounding[i - 1]!);
  const leap = leaps / (sounding.length - 1);
  return Math.abs(mean - 0x80) < MAX_OFF_CENTRE && leap < MAX_LEAP
    ? {
        confidence: 0.6,
        reasons: [
          said('wavesample.n80TracksOf'),
          said('wavesample.itsSamplesLieAbout', { mean: Math.round(mean), leap: Math.round(leap) }),
        ],
      }
    : null;
}

/** What sounds in the first bank that has anything; null where all are silent. */
async function firstSounding(source: ByteSource): Promise<Uint8Array | null> {
  for (let bank = 0; bank < BANKS.length; bank++) {
    const sounding = (await samplesOf(source, bank)).filter((byte) => byte !== 0);
    if (sounding.length >= PART) return sounding;
  }
  return null;
}

export async function openWavesample(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const entries: VolumeEntry[] = [];
  const banks: [number, number][][] = [];
  if (source.size < WAVESAMPLE_BYTES)
    problems.report(
      'truncated-image',
      source.size,
      said('wavesample.theImageEndsAfter', {
        source: source.size,
        wavesampleBytes: WAVESAMPLE_BYTES,
      }),
    );
  for (const [bank, name] of BANKS.entries()) {
    const waves = wavesOf(await samplesOf(source, bank));
    banks.push(waves);
    entries.push(
      fileEntry({ kind: 'directory', path: name, recordedName: name, bytes: 0, extents: [] }),
    );
    for (const [i, [from, to]] of waves.entries()) addWave(from, to, bank, entries, name, i);
  }
  return extentVolume(source, {
    filesystem: 'wavesample',
    label: null,
    totalBytes: BANKS.length * SAMPLES,
    freeBytes: freeBehind(banks),
    entries,
    problems: problems.all(),
  });
}

function addWave(
  from: number,
  to: number,
  bank: number,
  entries: VolumeEntry[],
  name: string,
  i: number,
) {
  const extents: Extent[] = [];
  for (let at = from; at < to;) {
    const length = Math.min(to - at, SECTOR - (at % SECTOR));
    extents.push({ offset: placeOf(bank, SECTOR + at), length });
    at += length;
  }
  entries.push(
    fileEntry({
      path: `${name}/wave-${i + 1}`,
      recordedName: `wave-${i + 1}`,
      type: 'wave',
      bytes: to - from,
      extents: joined(extents),
    }),
  );
}
