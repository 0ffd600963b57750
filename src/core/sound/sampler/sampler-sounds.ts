/** The samples and programs of a partitioned sampler disk, volume by volume. */
import { said } from '@/core/said';
import type { Problem } from '../../problems';
import { collect, type Volume, type VolumeEntry } from '../../volume/volume';
import type { SoundFolder, SoundProgram, SoundSample, Sounds } from '../sound';
import { MOST_PROGRAM_BYTES, programOf } from './program-file';
import { headerBytesOf, sampleOf } from './sample-file';

const SAMPLE = 's';
const PROGRAM = 'p';

/** Bytes of a file from its start on. */
const startOf = (volume: Volume, entry: VolumeEntry, bytes: number): Promise<Uint8Array> =>
  collect(volume.stream({ ...entry, bytes: Math.min(entry.bytes, bytes) }));

/** The files of each volume: they follow it in the listing. */
function* foldersOf(volume: Volume): Generator<{ path: string[]; files: VolumeEntry[] }> {
  let folder: { path: string[]; files: VolumeEntry[] } | null = null;
  for (const entry of volume.entries) {
    if (entry.kind === 'file') {
      folder?.files.push(entry);
      continue;
    }
    if (folder) yield folder;
    folder = { path: [entry.path.split('/')[0]!, entry.recordedName], files: [] };
  }
  if (folder) yield folder;
}

/** Reads the files of one volume after another. */
class SamplerSounds implements Sounds {
  readonly folders: SoundFolder[] = [];
  readonly problems: Problem[] = [];

  constructor(
    private readonly volume: Volume,
    private readonly imageBytes: number,
  ) {}

  async readFolder(path: readonly string[], files: readonly VolumeEntry[]): Promise<void> {
    const pathOf = (entry: VolumeEntry) => [...path, entry.recordedName].join('/');
    const samples: SoundSample[] = [];
    const byName = new Map<string, SoundSample>();
    for (const entry of files.filter(({ type }) => type === SAMPLE)) {
      const header = await startOf(this.volume, entry, headerBytesOf(entry));
      const there = bytesThere(entry, this.imageBytes);
      const sample = this.found(entry, sampleOf(entry, pathOf(entry), header, there));
      if (!sample) continue;
      samples.push(sample);
      // Of two of one name the first is meant.
      if (!byName.has(sample.name)) byName.set(sample.name, sample);
    }
    const named = (name: string) => byName.get(name) ?? null;
    const programs: SoundProgram[] = [];
    for (const entry of files.filter(({ type }) => type === PROGRAM)) {
      const bytes = await startOf(this.volume, entry, MOST_PROGRAM_BYTES);
      const program = this.found(entry, programOf(entry, pathOf(entry), bytes, named));
      if (program) programs.push(program);
    }
    this.folders.push({ path, samples, programs });
  }

  private found<T>(entry: VolumeEntry, sound: T | null): T | null {
    if (!sound)
      this.problems.push({
        kind: 'sample-cut',
        said: said('sound.hasNoHeader', { path: entry.path, bytes: entry.bytes }),
        offset: entry.extents[0]?.offset ?? null,
      });
    return sound;
  }
}

/** Bytes of a file that lie in the image. */
const bytesThere = ({ bytes, extents }: VolumeEntry, imageBytes: number): number =>
  Math.min(
    bytes,
    extents.reduce(
      (sum, { offset, length }) => sum + Math.max(0, Math.min(length, imageBytes - offset)),
      0,
    ),
  );

export async function samplerSounds(volume: Volume, imageBytes: number): Promise<Sounds> {
  const sounds = new SamplerSounds(volume, imageBytes);
  for (const { path, files } of foldersOf(volume)) await sounds.readFolder(path, files);
  return sounds;
}
