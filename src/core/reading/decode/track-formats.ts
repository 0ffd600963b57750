/** What is recorded on a track, in words. */
import { describeSectors, encodingName } from '@/core/layout/layout';
import { said, type Said } from '@/core/said';
import type { FoundFormat } from './track-work';

/** "MFM, 9 × 512, numbers 1 to 9". */
export function describeFound({ encoding, sectors }: FoundFormat): Said {
  if (sectors.length === 0)
    return said('decode.noSectorRead', { encoding: encodingName(encoding) });
  const sorted = [...sectors].sort((a, b) => a.r - b.r);
  return said('decode.found', {
    encoding: encodingName(encoding),
    sectors: describeSectors(sorted.map(({ size }) => ({ bytes: size }))),
    first: sorted[0]!.r,
    last: sorted[sorted.length - 1]!.r,
  });
}
