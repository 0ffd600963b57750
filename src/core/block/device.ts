/**
 * A block device as it describes itself and what is in it. Declared once: the bench protocol and
 * the docket take their types from here.
 */
import { z } from 'zod';
import { said, type Said } from '@/core/said';
import { TRACK_FLAGS } from '../optical/cue';

const count = z.int().min(0);

/** What a drive counts of itself; the names are the drive's own. */
const HealthReading = z.object({
  name: z.string().max(80),
  value: z.number(),
  unit: z.string().max(20).default(''),
});
type HealthReading = z.output<typeof HealthReading>;

const DISC_TRACK_MODES = Object.freeze(['audio', 'mode1', 'mode2'] as const);

/**
 * What is in a drive that delivers blocks, or the drive itself where nothing can be taken out of
 * it.
 */
export const BlockMedium = z.object({
  /** An `optical-disc` is one whose drive does not say which of the two it is. */
  kind: z.enum(['hard-disk', 'cd', 'dvd', 'optical-disc']),
  /** Of the thing itself, where it says so: a hard disk has its own. */
  model: z.string().max(200).default(''),
  serial: z.string().max(200).default(''),
  /** Raw sectors of 2,352 bytes of a CD; what the drive has checked itself of all others. */
  blockBytes: z.int().min(128).max(65_536),
  blocks: count,
  /** By the drive's own account; null where it says nothing of it. */
  geometry: z.object({ cylinders: count, heads: count, sectors: count }).nullable().default(null),
  /** Blocks of each layer of a disc, in the order they are read. */
  layers: z.array(count).max(4).default([]),
  /** Of a CD: where each track starts, and what it holds. */
  tracks: z
    .array(
      z.object({
        number: z.int().min(1).max(99),
        mode: z.enum(DISC_TRACK_MODES),
        start: count,
        /** By the control bits of the disc's table of contents; left out where there are none. */
        flags: z.array(z.enum(TRACK_FLAGS)).optional(),
      }),
    )
    .max(99)
    .default([]),
  /** What the drive says of its own state now; null where it does not. */
  health: z.array(HealthReading).max(40).nullable().default(null),
});
export type BlockMedium = z.output<typeof BlockMedium>;

export const isRawDisc = ({
  kind,
  blockBytes,
}: Pick<BlockMedium, 'kind' | 'blockBytes'>): boolean => kind === 'cd' && blockBytes === 2352;

/** In a few words: `CD, 3 tracks`, `DVD, two layers`. */
export function describeMedium({ kind, layers, tracks, geometry }: BlockMedium): Said {
  if (kind === 'cd')
    return said('block.cdTracks', {
      tracks: tracks.length,
      isMixed:
        tracks.some(({ mode }) => mode === 'audio') && tracks.some(({ mode }) => mode !== 'audio'),
    });
  if (kind === 'dvd') return said('block.dvd', { layers: layers.length });
  if (kind === 'optical-disc') return said('forms.optical-disc');
  return geometry
    ? said('block.hardDisk', {
        cylinders: geometry.cylinders,
        heads: geometry.heads,
        sectors: geometry.sectors,
      })
    : said('forms.hard-disk');
}
