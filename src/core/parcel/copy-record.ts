/**
 * What is known of an image that goes along in a parcel: where its bytes come from, its layout, and
 * how every sector or block of it came out; so that whoever takes it in grades it alike.
 */
import { z } from 'zod';
import { BlockMedium } from '../block/device';
import { PACES } from '../block/extent-map';
import { SECTOR_BYTES, TRACK_FLAGS, type TrackKind } from '../optical/cue';
import { PROBLEM_KINDS } from '../problems';
import { GRADES } from '../reading/grades';
import { MENDINGS, REMARK_KINDS } from '../reading/track-sector';
import type { Said } from '../said';

const count = z.int().min(0);
const head = z.int().min(0).max(1);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const text = z.string().max(4000);

/** A code with parameters; what it says is told by `src/messages`, also where it is not known. */
export const KeptSaid = z.strictObject({
  code: z.string().max(100),
  with: z.record(z.string(), z.json()).optional(),
}) as unknown as z.ZodType<Said>;

const KeptMark = z.strictObject({
  c: z.int(),
  h: z.int().nullable(),
  r: z.int(),
  n: z.int().nullable(),
  size: count,
  grade: z.enum(GRADES),
  angle: z.number().nullable(),
  span: z.number().nullable(),
  deleted: z.boolean(),
  mending: z.enum(MENDINGS).nullable(),
  seen: count,
  seenSound: count,
  remarks: z.array(z.strictObject({ kind: z.enum(REMARK_KINDS), what: KeptSaid })).optional(),
  pass: count.optional(),
  timing: z.int().optional(),
});

const TRACK_KINDS = Object.keys(SECTOR_BYTES) as [TrackKind, ...TrackKind[]];

const KeptTrack = z.strictObject({
  number: z.int().min(1).max(99),
  type: z.enum(TRACK_KINDS),
  flags: z.array(z.enum(TRACK_FLAGS)).optional(),
  startLba: z.int(),
  sectors: count,
  fileSector: count,
  file: z.literal(0),
  pregapSectors: count,
  indexes: z.array(z.int()).optional(),
  imageSector: z.int().optional(),
});

const KeptBlocks = z.strictObject({
  blockBytes: z.int().min(1).max(65_536),
  blocks: count,
  extents: z.array(z.tuple([count, count, z.enum(GRADES), count, z.literal([...PACES])])),
  medium: BlockMedium.nullable(),
  tracks: z.array(KeptTrack).max(99),
  readings: z.int().min(1),
  differing: z.array(z.strictObject({ from: count, to: count })),
});

const NAME = z.string().min(1).max(400);

export const CopyRecord = z.strictObject({
  format: z.literal('frail-spindle-copy'),
  version: z.literal(1),
  image: z.strictObject({ name: NAME, bytes: count, sha256 }),
  sidecar: NAME.nullable(),
  capture: NAME.nullable().describe('flux, or the raw image of a disc; null where it stayed'),
  source: z.enum(['sitting', 'upload', 'assembly']),
  sourceName: text.nullable(),
  madeBy: text,
  madeAt: z.iso.datetime(),
  layout: z.json().describe('as a layout is exported; null where none is known'),
  tally: z
    .strictObject({ firm: count, mended: count, doubtful: count, lost: count, unread: count })
    .nullable(),
  problems: z.array(
    z.strictObject({ kind: z.enum(PROBLEM_KINDS), said: KeptSaid, offset: count.nullable() }),
  ),
  inDoubt: z
    .strictObject({
      ranges: z.array(z.strictObject({ offset: count, length: count })),
      sectorBytes: z.int().min(1).nullable(),
    })
    .nullable(),
  strange: z.array(z.strictObject({ cylinder: count, head, what: KeptSaid })).nullable(),
  surface: z
    .array(
      z.strictObject({
        cylinder: count,
        head,
        tries: count.optional(),
        sectors: z.array(KeptMark),
      }),
    )
    .nullable(),
  blocks: KeptBlocks.nullable(),
});
export type CopyRecord = z.output<typeof CopyRecord>;

/** JSON Schema of it. */
export const copyJsonSchema = () => ({
  title: 'An image in a parcel',
  ...z.toJSONSchema(CopyRecord, { io: 'input' }),
});
