/** How far a volume uses its medium, told from its first tracks alone. */
import { memorySource } from '@/core/bits/byte-source';
import { identifyVolumes } from '@/core/identify/identify';
import { buildFlatImage } from '@/core/image/flat';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import type { TrackDecode } from '@/core/reading/decode/track-decoder';

/**
 * The last cylinder of the layout that a file or folder lies on; null where the first tracks hold
 * no volume that says.
 */
export async function lastCylinderInUse(
  layout: Layout,
  stepping: 1 | 2,
  tracks: readonly TrackDecode[],
): Promise<number | null> {
  const { bytes } = buildFlatImage(
    layout,
    tracks.flatMap(({ sectors }) => sectors),
    { stepping },
  );
  const { volumes } = await identifyVolumes(memorySource(bytes));
  const ends = volumes.flatMap(({ volume, offset }) =>
    volume.entries.flatMap(({ extents }) =>
      extents.map((extent) => offset + extent.offset + extent.length),
    ),
  );
  if (ends.length === 0) return null;
  const end = Math.max(...ends);
  return Math.max(
    ...tracksOfImage(layout)
      .filter((track) => track.offset < end)
      .map(({ cylinder }) => cylinder),
  );
}
