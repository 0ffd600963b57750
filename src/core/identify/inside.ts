/**
 * Images that are kept as files on a volume, opened where they lie: their files are bytes of the
 * image that holds them all.
 */
import type { Said } from '@/core/said';
import type { ByteSource } from '../bits/byte-source';
import { extentSource, placesOf } from '../volume/extent-source';
import { extentVolume } from '../volume/extent-volume';
import { joined } from '../volume/extents';
import type { Volume, VolumeEntry } from '../volume/volume';
import { identifyVolumes } from './identify';

interface InnerVolume {
  /**
   * Path of the file that it is, on the volume that holds it; of a deeper one, through every file
   * on the way.
   */
  inside: string;
  /** Its number, where the image inside is parted. */
  partition: number | null;
  /** Its entries' extents are bytes of the outermost volume. */
  volume: Volume;
  confidence: number;
  reasons: Said[];
}

/** Less than the smallest disk there was. */
const SMALLEST = 64 * 1024;
/** What any file may look like by chance is not opened. */
const ENOUGH = 0.8;
/**
 * Without a mark of its own, a wavesample disk is known by what its waves look like: sounds kept as
 * files look so too.
 */
const WITHOUT_MARK = new Set(['wavesample']);
const DEEPEST = 3;
/** Volumes opened inside one image, and files tried. */
const MAX_VOLUMES = 64;
const MAX_TRIED = 2000;

interface Budget {
  volumes: number;
  tried: number;
}

/**
 * An image is a whole number of the smallest sectors; one kind has a byte more for each of its
 * sectors.
 */
const SECTOR = 128;
const WITH_STATUS = new Set([175_531]);

const mayBeImage = ({ kind, bytes, packedBytes, recoverable, damaged }: VolumeEntry) =>
  kind === 'file' &&
  // Places in what is unpacked are no places of the image.
  typeof packedBytes !== 'number' &&
  bytes >= SMALLEST &&
  (bytes % SECTOR === 0 || WITH_STATUS.has(bytes)) &&
  recoverable === null &&
  !damaged;

/**
 * Every image inside a volume, each with what is in it, and those inside of them. `source` is what
 * the volume was opened over.
 */
export async function* volumesInside(
  source: ByteSource,
  volume: Pick<Volume, 'entries'>,
  budget: Budget = { volumes: MAX_VOLUMES, tried: MAX_TRIED },
  within = '',
  depth = 1,
): AsyncGenerator<InnerVolume> {
  for (const entry of volume.entries) {
    if (budget.volumes <= 0 || budget.tried <= 0) return;
    if (!mayBeImage(entry)) continue;
    budget.tried--;
    const inner = extentSource(source, entry);
    const inside = within ? `${within}/${entry.path}` : entry.path;
    for (const found of (await identifyVolumes(inner, { isInside: true })).volumes) {
      if (
        found.confidence < ENOUGH ||
        WITHOUT_MARK.has(found.volume.filesystem) ||
        budget.volumes <= 0
      )
        continue;
      budget.volumes--;
      // Bytes of the file, and then of what holds the file.
      const placed = found.volume.entries.map((each) => ({
        ...each,
        extents: joined(
          each.extents.flatMap(({ offset, length }) =>
            placesOf(entry.extents, {
              offset: offset < 0 ? offset : offset + found.offset,
              length,
            }),
          ),
        ),
      }));
      const opened = extentVolume(source, { ...found.volume, entries: placed });
      yield {
        inside,
        partition: found.partition,
        volume: opened,
        confidence: found.confidence,
        reasons: found.reasons,
      };
      if (depth < DEEPEST)
        yield* volumesInside(
          source,
          opened,
          budget,
          found.partition === null ? inside : `${inside}/${found.partition}`,
          depth + 1,
        );
    }
  }
}
