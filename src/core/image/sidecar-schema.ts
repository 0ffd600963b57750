/**
 * The sidecar beside an image, declared once: its types are inferred from here, and
 * `docs/formats/sidecar.schema.json` is made of it.
 */
import { z } from 'zod';
import { HowMade } from '../description/how-made';
import { MediumRecord } from '../description/medium-record';
import { ENCODING_IDS } from '../layout/layout';
import { PROBLEM_KINDS } from '../problems';
import { GRADES } from '../reading/grades';
import { MENDINGS } from '../reading/track-sector';
import { REMARK_KINDS } from '../reading/track-sector';

const count = z.int().min(0);
const sha256 = z.string().regex(/^[0-9a-f]{64}$/);
const head = z.int().min(0).max(1);
const place = { cylinder: count, head };

const SidecarSector = z.strictObject({
  ...place,
  encoding: z.enum(ENCODING_IDS),
  c: z.int().describe('ID field as recorded; of a lost or unread sector as the layout expects'),
  h: z.int().nullable().describe('null where the encoding does not record it'),
  r: z.int(),
  n: z.int().nullable(),
  idExtra: z
    .record(z.string(), z.int())
    .optional()
    .describe('further bytes of the ID field, by name'),
  size: count,
  deleted: z.boolean(),
  grade: z.enum(GRADES),
  sha256: sha256.nullable(),
  mending: z.enum(MENDINGS).optional(),
  remarks: z.array(z.strictObject({ kind: z.enum(REMARK_KINDS), what: z.string() })).optional(),
  source: z
    .strictObject({
      reading: count,
      pass: count,
      turn: z.int().min(-1),
      recovery: z.string(),
      why: z.string(),
    })
    .optional()
    .describe(
      'reading of the track (from 0), pass, turn and recovery that supplied the bytes, and why',
    ),
  keptBytes: z
    .string()
    .regex(/^([0-9a-f]{2})*$/)
    .optional()
    .describe('bytes that a doubtful sector had: evidence, not content'),
});

export const Sidecar = z.strictObject({
  /** The second is what sidecars were called before. */
  format: z.enum(['frail-spindle-sidecar', 'frail-spindle-card']),
  version: z.literal(1),
  layout: z.string(),
  image: z.strictObject({ bytes: count, sha256, order: z.string() }),
  tally: z.strictObject({
    firm: count,
    mended: count,
    doubtful: count,
    lost: count,
    unread: count,
  }),
  filledIn: z
    .array(
      z.strictObject({
        offset: count,
        length: count,
        ...place,
        r: z.int(),
        with: z.enum(['zeros', 'doubtful bytes']),
      }),
    )
    .describe('byte ranges of the image that no sound sector fills'),
  oddities: z.array(z.strictObject({ ...place, r: z.int(), what: z.string() })),
  strange: z
    .array(z.strictObject({ ...place, what: z.string() }))
    .describe('tracks that hold something else than the layout has there'),
  apart: z.array(SidecarSector).describe('sectors with no place in the image'),
  sectors: z.array(SidecarSector),
  passes: z.array(count),
  problems: z.array(
    z.strictObject({ kind: z.enum(PROBLEM_KINDS), message: z.string(), offset: count.nullable() }),
  ),
  acceptedLosses: z
    .array(z.string())
    .optional()
    .describe('what a conversion could not carry over, and was told to go without'),
  description: z.record(z.string(), z.string()).optional(),
  made: HowMade.optional().describe('how the image came to be, where a house made it'),
  record: MediumRecord.optional().describe('of the medium, as it was when this left the house'),
});

/** JSON Schema of the sidecar. */
export const sidecarJsonSchema = () => ({
  title: 'Sidecar of a flat image',
  ...z.toJSONSchema(Sidecar),
});
