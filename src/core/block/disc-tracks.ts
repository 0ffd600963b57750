/** The tracks of a disc that was read whole, as they lie in its raw image. */
import type { DiscTrack } from '../optical/disc-tracks';
import type { BlockMedium } from './device';

export function discTracks({
  tracks,
  blocks,
}: Pick<BlockMedium, 'tracks' | 'blocks'>): DiscTrack[] {
  return tracks.map(({ number, mode, start, flags }, i) => ({
    number,
    type: mode === 'audio' ? 'AUDIO' : mode === 'mode2' ? 'MODE2/2352' : 'MODE1/2352',
    ...(flags && { flags }),
    startLba: start,
    sectors: (tracks[i + 1]?.start ?? blocks) - start,
    fileSector: start,
    file: 0,
    pregapSectors: 0,
  }));
}
