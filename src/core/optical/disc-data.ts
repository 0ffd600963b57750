/**
 * What a disc holds as data, for file systems: 2,048 bytes a sector from its first track of data on.
 * Further tracks, which may be later sessions, lie where their addresses have them; what is between
 * is zeros.
 */
import { placedSource, type ByteSource } from '../bits/byte-source';
import { userSource } from './disc';
import { dataTracks, type DiscTrack } from './disc-tracks';
import type { OtherReading } from './other-readings';
import { USER_SECTOR_BYTES } from './raw-sector';
import { isScrambled } from './header-survey';

interface OfDrive {
  flags?: ByteSource | null;
  others?: readonly OtherReading[];
  /** Hears of sectors that are lost, by their number in the image, whenever one is read. */
  onLost?: (sector: number) => void;
}

/** Null where no track is data. */
export async function discData(
  sources: readonly ByteSource[],
  tracks: readonly DiscTrack[],
  { flags = null, others = [], onLost = () => undefined }: OfDrive = {},
): Promise<ByteSource | null> {
  const parts: { at: number; source: ByteSource }[] = [];
  for (const track of dataTracks(tracks)) {
    const raw = sources[track.file];
    if (!raw) continue;
    const scrambled = await isScrambled(raw, track);
    const source = userSource(raw, track, scrambled, flags, others, (sector) =>
      onLost(track.imageSector + sector),
    );
    parts.push({ at: track.imageSector * USER_SECTOR_BYTES, source });
  }
  const [only, ...more] = parts;
  if (!only) return null;
  if (more.length === 0) return only.source;
  const size = Math.max(...parts.map(({ at, source }) => at + source.size));
  return placedSource(size, parts);
}
