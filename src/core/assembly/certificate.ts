/**
 * The certificate of a write-back: what was written where, how it was proved, with what margin, and
 * how it did in the old
 * machine. Its JSON Schema is `docs/formats/certificate.schema.json`; the printed one has the
 * same facts.
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

type Line = [label: string, text: string];
const TRACKS_NAMED = 12;
const STRETCHES_NAMED = 8;

const day = (at: string): string => `${at.slice(0, 10)}, ${at.slice(11, 16)} UTC`;

function sourceLines({ source }: Certificate): Line[] {
  const lender = source.lender && `, lent by ${source.lender}`;
  const flux = source.as === 'flux' ? '; its flux as it was read' : '';
  const doubt =
    source.inDoubt > 0
      ? `; ${source.inDoubt.toLocaleString('en')} of it in doubt, with zeros in their place`
      : '';
  return [
    ['Made from', `${source.code}, ${source.title}${lender}`],
    [
      'Image',
      `${source.bytes.toLocaleString('en')} bytes, SHA-256 ${source.sha256}${flux}${doubt}`,
    ],
  ];
}

function layoutLines({ layout, machine, precompensated }: Certificate): Line[] {
  const shifted = precompensated ? ', inner tracks pre-compensated' : '';
  return [
    ...(layout ? [['Layout', `${layout}${shifted}`] satisfies Line] : []),
    ...(machine ? [['Meant for', machine] satisfies Line] : []),
  ];
}

function trackLines({ tracks, margin }: Certificate): Line[] {
  const lines: Line[] = [];
  if (tracks) {
    const { proved, written, again, failed } = tracks;
    const named = failed
      .slice(0, TRACKS_NAMED)
      .map(({ cylinder, head }) => `cylinder ${cylinder} head ${head}`)
      .join(', ');
    const others = failed.length > TRACKS_NAMED ? ' and others' : '';
    lines.push([
      'Tracks',
      `${proved} of ${written} proved, ${again} written more than once` +
        (named && `; failed: ${named}${others}`),
    ]);
  }
  if (margin) {
    const [mean, worst] = [margin.meanSpread, margin.worstSpread].map((spread) =>
      (100 * spread).toFixed(1),
    );
    const { cylinder, head } = margin.worstAt;
    lines.push([
      'Margin',
      `transitions ${mean} % of a cell off on average, ${worst} % at worst (cylinder ` +
        `${cylinder}, head ${head}); 25 % and more begin to fail`,
    ]);
  }
  return lines;
}

function blockLines({ blocks }: Certificate): Line[] {
  if (!blocks) return [];
  const { proved, written, blockBytes, failed } = blocks;
  const named = failed
    .slice(0, STRETCHES_NAMED)
    .map(({ from, count }) => `${count} from ${from}`)
    .join(', ');
  return [
    [
      'Blocks',
      `${proved.toLocaleString('en')} of ${written.toLocaleString('en')} ` +
        `of ${blockBytes} bytes proved${named && `; failed: ${named}`}`,
    ],
  ];
}

function trialText({ trial }: Certificate): string {
  if (!trial) return 'nobody has said yet how it did in the machine';
  const note = trial.note && `: ${trial.note}`;
  return `${trial.outcome}${note} (${trial.by}, ${day(trial.at)})`;
}

/** The certificate in lines for paper: what it is called, and what it is. */
export function certificateLines(certificate: Certificate): Line[] {
  const { target, station, operator, startedAt, endedAt } = certificate;
  return [
    ...sourceLines(certificate),
    ['Written to', `${target.code}, ${target.title}, ${target.form}; before: ${target.found}`],
    ['By', `station ${station.number}, ${station.model}, ${station.serial}`],
    ...layoutLines(certificate),
    ...trackLines(certificate),
    ...blockLines(certificate),
    ['Done by', `${operator}, ${day(startedAt)}${endedAt ? ` to ${day(endedAt)}` : ''}`],
    ['Trial', trialText(certificate)],
  ];
}
