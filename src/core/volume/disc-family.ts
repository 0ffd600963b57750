/** Data discs: ISO 9660 with its extensions, UDF, and bridges of both. */
import { probeDisc, openDisc } from './disc-volume';
import { candidate, type VolumeFamily } from './family';

export const DISC: VolumeFamily = {
  filesystems: ['iso9660', 'udf'],
  async probe(source) {
    const found = await probeDisc(source);
    return (
      found && candidate(source, found.filesystem, found, () => openDisc(source, found.filesystem))
    );
  },
};
