/** The sounds of an image as a listing that is sent elsewhere: files by their place in their volume. */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import type { VolumeEntry } from '../volume/volume';
import type { SoundProgram, SoundRegion, SoundSample } from './sound';
import { soundsIn } from './sounds-of';

/** A file by its place among its volume's entries. */
interface Placed {
  position: number;
}

export type ListedSample = Omit<SoundSample, 'entry'> & Placed;
type ListedRegion = Omit<SoundRegion, 'sample'> & {
  /** The place of its sample's file; null where there is none. */
  sample: number | null;
};
type ListedProgram = Omit<SoundProgram, 'entry' | 'regions'> & Placed & { regions: ListedRegion[] };

export interface ListedFolder {
  path: readonly string[];
  samples: ListedSample[];
  programs: ListedProgram[];
}

export interface ListedSounds {
  /** Where the volume begins in the image. */
  offset: number;
  filesystem: string;
  folders: ListedFolder[];
  problems: Problem[];
}

/** A sample as it is sent elsewhere, its file by its place. */
export function listedSample({ entry: _, ...rest }: SoundSample, position: number): ListedSample {
  return { ...rest, position };
}

/** `rateHz` is for what does not say its rate. */
export async function listSounds(
  source: ByteSource,
  { rateHz }: { rateHz: number | undefined },
): Promise<ListedSounds[]> {
  const { sounding } = await soundsIn(source, rateHz);
  return sounding.map(({ volume, offset, sounds }) => {
    const places = new Map(volume.entries.map((entry, position) => [entry, position]));
    const at = (entry: VolumeEntry) => places.get(entry)!;
    const folders = sounds.folders.map(({ path, samples, programs }) => ({
      path,
      samples: samples.map((sample) => listedSample(sample, at(sample.entry))),
      programs: programs.map(({ entry, regions, ...rest }) => ({
        ...rest,
        position: at(entry),
        regions: regions.map(({ sample, ...region }) => ({
          ...region,
          sample: sample && at(sample.entry),
        })),
      })),
    }));
    return { offset, filesystem: volume.filesystem, folders, problems: sounds.problems };
  });
}
