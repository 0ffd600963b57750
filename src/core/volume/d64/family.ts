/** The `.d64` family: one side of 35 tracks, two sides, and 80 tracks. */
import { candidate, type VolumeFamily } from '../family';
import type { D64Kind } from './geometry';
import { probeD64 } from './probe';
import { openD64 } from './read';
import { d64Areas } from './records';
import { WritableD64 } from './write';

export const D64: VolumeFamily = {
  filesystems: ['d64', 'd71', 'd81'] satisfies D64Kind[],
  async probe(source) {
    const found = await probeD64(source);
    return found && candidate(source, found.geometry.kind, found, () => openD64(source, found));
  },
  writable: (image) => new WritableD64(image),
  areas: (_, filesystem) => d64Areas(filesystem as D64Kind),
};
