/**
 * The sidecar beside an image of a block device: what every block of it is, from which device it
 * came, what was filled in.
 * Its JSON Schema is `docs/formats/extents.schema.json`; the command line writes and reads the
 * same file.
 */
import { z } from 'zod';
import { HowMade } from '../description/how-made';
import { MediumRecord } from '../description/medium-record';
import { PROBLEM_KINDS } from '../problems';
import { GRADES } from '../reading/grades';
import { BlockMedium } from './device';
import { ExtentMap, PACES, unsoundRuns, type Extent } from './extent-map';

const count = z.int().min(0);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);

export const ExtentsFile = z.strictObject({
  format: z.literal('frail-spindle-extents'),
  version: z.literal(1),
  image: z.strictObject({
    bytes: count,
    sha256: sha256.nullable().describe('null while it is still being read'),
  }),
  blockBytes: z.int().min(1).max(65_536),
  blocks: count,
  tally: z.strictObject({
    firm: count,
    mended: count,
    doubtful: count,
    lost: count,
    unread: count,
  }),
  extents: z
    .array(
      z.strictObject({
        from: count.describe('first block'),
        count: z.int().min(1),
        grade: z.enum(GRADES),
        tries: count.describe('times it was asked for itself: until it came, or in vain'),
        group: count.describe(
          'of an unread one: blocks of the smallest request that failed with it; ' +
            '2147483648 where it was passed over',
        ),
        pace: z.literal([...PACES]).describe('how long it took: as usual, 8 times, 64 times that'),
      }),
    )
    .describe('runs of blocks that are alike, in order; blocks in none are unread'),
  filledIn: z
    .array(z.strictObject({ offset: count, length: count, with: z.literal('zeros') }))
    .describe('byte ranges of the image that no sound block fills'),
  device: BlockMedium.nullable(),
  readings: z.int().min(1).describe('readings that were put together'),
  differing: z
    .array(z.strictObject({ from: count, count: z.int().min(1) }))
    .describe('blocks that two readings had sound, and not the same'),
  problems: z.array(
    z.strictObject({ kind: z.enum(PROBLEM_KINDS), message: z.string(), offset: count.nullable() }),
  ),
  description: z.record(z.string(), z.string()).optional(),
  made: HowMade.optional().describe('how the image came to be, where a house made it'),
  record: MediumRecord.optional().describe('of the medium, as it was when this left the house'),
});
export type ExtentsFile = z.output<typeof ExtentsFile>;

/** JSON Schema of the sidecar. */
export const extentsJsonSchema = () => ({
  title: 'Extents of an image of a block device',
  ...z.toJSONSchema(ExtentsFile, { io: 'input' }),
});

export interface ExtentsAbout {
  sha256: string | null;
  blockBytes: number;
  device?: BlockMedium | null;
  readings?: number;
  differing?: readonly { from: number; to: number }[];
  problems?: ExtentsFile['problems'];
  description?: Record<string, string>;
}

export function extentsFile(
  map: ExtentMap,
  {
    sha256: digest,
    blockBytes,
    device = null,
    readings = 1,
    differing = [],
    problems = [],
    description,
  }: ExtentsAbout,
): ExtentsFile {
  return {
    format: 'frail-spindle-extents',
    version: 1,
    image: { bytes: map.blocks * blockBytes, sha256: digest },
    blockBytes,
    blocks: map.blocks,
    tally: map.tally(),
    extents: map
      .extents()
      .filter(({ grade, group }) => grade !== 'unread' || group > 0)
      .map(({ from, to, grade, tries, group, pace }) => ({
        from,
        count: to - from,
        grade,
        tries,
        group,
        pace,
      })),
    filledIn: unsoundRuns(map).map(({ from, to }) => ({
      offset: from * blockBytes,
      length: (to - from) * blockBytes,
      with: 'zeros',
    })),
    device,
    readings,
    differing: differing.map(({ from, to }) => ({ from, count: to - from })),
    problems,
    ...(description && { description }),
  };
}

/** The map that a file holds. Throws RangeError where its extents do not fit its device. */
export function mapOfFile({ blocks, extents }: Pick<ExtentsFile, 'blocks' | 'extents'>): ExtentMap {
  return new ExtentMap(
    blocks,
    extents.map(({ from, count: blocksOf, ...known }): Extent => ({
      from,
      to: from + blocksOf,
      ...known,
    })),
  );
}
