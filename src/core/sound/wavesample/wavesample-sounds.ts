/**
 * The waves of a wavesample floppy: unsigned frames of 8 bits as they stand, at a rate that the disk
 * does not say.
 */
import type { Volume, VolumeEntry } from '../../volume/volume';
import { MIDDLE_C, type SoundFolder, type SoundSample, type Sounds } from '../sound';

/** What such a machine most often recorded at, until the archivist says otherwise. */
export const WAVESAMPLE_RATE = 29_411;

const sampleOf = (entry: VolumeEntry, rateHz: number): SoundSample => ({
  path: entry.path,
  name: entry.recordedName,
  entry,
  headerBytes: 0,
  rateHz,
  rateAssumed: true,
  rootNote: MIDDLE_C,
  cents: 0,
  channels: 1,
  bits: 8,
  frames: entry.bytes,
  start: 0,
  end: Math.max(0, entry.bytes - 1),
  loops: [],
  playback: 'no-loop',
  problems: [],
});

export function wavesampleSounds(volume: Volume, rateHz = WAVESAMPLE_RATE): Sounds {
  const folders: SoundFolder[] = volume.entries
    .filter(({ kind }) => kind === 'directory')
    .map((bank) => ({
      path: [bank.recordedName],
      samples: volume.entries
        .filter(({ kind, path }) => kind === 'file' && path.startsWith(`${bank.path}/`))
        .map((entry) => sampleOf(entry, rateHz)),
      programs: [],
    }));
  return { folders, problems: [] };
}
