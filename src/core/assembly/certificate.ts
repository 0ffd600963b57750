/**
 * The certificate of a write-back: what was written where, how it was proved, with what margin, and
 * how it did in the old machine. Its JSON Schema is `docs/formats/certificate.schema.json`; the
 * printed one has the same facts.
 */
import { z } from 'zod';

const count = z.int().min(0);
const moment = z.iso.datetime();

export const Certificate = z.strictObject({
  format: z.literal('frail-spindle-certificate'),
  version: z.literal(2),
  writeback: count,
  source: z.strictObject({
    code: z.string(),
    title: z.string(),
    lender: z.string(),
    sha256: z.string().regex(/^[0-9a-f]{64}$/),
    bytes: count,
    as: z.enum(['image', 'flux']),
    inDoubt: count.describe(
      'its sectors or blocks that no sound reading supplied: zeros stand in their place',
    ),
  }),
  target: z.strictObject({
    code: z.string(),
    title: z.string(),
    form: z.string(),
    found: z.string().describe('what was on it before'),
  }),
  station: z.strictObject({ number: count, model: z.string(), serial: z.string() }),
  layout: z.string().nullable(),
  machine: z.string().nullable().describe('family of machines that it is meant for'),
  precompensated: z.boolean(),
  outcome: z.enum(['proved', 'not proved', 'failed', 'not ended']),
  sentence: z.string(),
  tracks: z
    .strictObject({
      written: count,
      proved: count,
      again: count.describe('tracks that took more than one writing'),
      failed: z.array(z.strictObject({ cylinder: count, head: count, tries: count })),
    })
    .nullable(),
  margin: z
    .strictObject({
      meanSpread: z
        .number()
        .describe(
          'root mean square distance of transitions from their raster when read back, in ' +
            'cells, over all tracks',
        ),
      worstSpread: z.number(),
      worstAt: z.strictObject({ cylinder: count, head: count }),
    })
    .nullable(),
  blocks: z
    .strictObject({
      blockBytes: count,
      written: count,
      proved: count,
      failed: z.array(z.strictObject({ from: count, count })),
    })
    .nullable(),
  trial: z
    .strictObject({
      outcome: z.enum(['works', 'does not work', 'not to be tried']),
      note: z.string(),
      by: z.string(),
      at: moment,
    })
    .nullable()
    .describe('how it did in the old machine or an emulator of it; null until somebody says'),
  operator: z.string(),
  startedAt: moment,
  endedAt: moment.nullable(),
});
export type Certificate = z.output<typeof Certificate>;

export const certificateJsonSchema = () => ({
  title: 'Certificate of a write-back',
  ...z.toJSONSchema(Certificate, { io: 'input' }),
});

interface ProvedTrack {
  cylinder: number;
  head: number;
  proved: boolean;
  tries: number;
  spread: number | null;
}

/** Figures of the tracks of a write-back. */
export function trackFigures(
  tracks: readonly ProvedTrack[],
): Pick<Certificate, 'tracks' | 'margin'> {
  if (tracks.length === 0) return { tracks: null, margin: null };
  const measured = tracks.filter(
    (track): track is ProvedTrack & { spread: number } => track.spread !== null && track.spread > 0,
  );
  const worst = measured.reduce<(typeof measured)[number] | null>(
    (most, track) => (most && most.spread >= track.spread ? most : track),
    null,
  );
  const rounded = (value: number) => Math.round(value * 1e4) / 1e4;
  return {
    tracks: {
      written: tracks.length,
      proved: tracks.filter(({ proved }) => proved).length,
      again: tracks.filter(({ tries }) => tries > 1).length,
      failed: tracks
        .filter(({ proved }) => !proved)
        .map(({ cylinder, head, tries }) => ({ cylinder, head, tries })),
    },
    margin: worst && {
      meanSpread: rounded(measured.reduce((sum, { spread }) => sum + spread, 0) / measured.length),
      worstSpread: rounded(worst.spread),
      worstAt: { cylinder: worst.cylinder, head: worst.head },
    },
  };
}
