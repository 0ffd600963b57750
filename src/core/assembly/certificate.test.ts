/** The certificate's figures, its lines, and its schema in the docs. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Certificate, certificateJsonSchema, certificateLines, trackFigures } from './certificate';

const certificate: Certificate = Certificate.parse({
  format: 'frail-spindle-certificate',
  version: 2,
  writeback: 7,
  source: {
    code: 'SKP-0104',
    title: 'Dues',
    lender: 'a keeper',
    sha256: 'a'.repeat(64),
    bytes: 737_280,
    as: 'image',
    inDoubt: 1,
  },
  target: { code: 'BLK-0001', title: 'blank', form: '3½-inch', found: 'nothing' },
  station: { number: 2, model: 'a drive', serial: 'X-1' },
  layout: 'mfm-35-9x512',
  machine: null,
  precompensated: true,
  outcome: 'not proved',
  sentence: 'Not proved.',
  ...trackFigures([
    { cylinder: 0, head: 0, proved: true, tries: 1, spread: 0.05 },
    { cylinder: 0, head: 1, proved: true, tries: 2, spread: 0.07 },
    { cylinder: 1, head: 0, proved: false, tries: 3, spread: 0.3 },
    { cylinder: 1, head: 1, proved: true, tries: 1, spread: null },
  ]),
  blocks: null,
  trial: null,
  operator: 'Tam Okoro',
  startedAt: '2026-11-27T08:00:00.000Z',
  endedAt: null,
});

test('figures of its tracks: what failed, what was written again, where the margin is least', () => {
  expect(certificate.tracks).toEqual({
    written: 4,
    proved: 3,
    again: 2,
    failed: [{ cylinder: 1, head: 0, tries: 3 }],
  });
  expect(certificate.margin).toEqual({
    meanSpread: 0.14,
    worstSpread: 0.3,
    worstAt: { cylinder: 1, head: 0 },
  });
  expect(trackFigures([])).toEqual({ tracks: null, margin: null });
});

test('its lines say what failed and what nobody has said yet', () => {
  const lines = Object.fromEntries(certificateLines(certificate));
  expect(lines.Tracks).toBe('3 of 4 proved, 2 written more than once; failed: cylinder 1 head 0');
  expect(lines.Image).toContain('1 of it in doubt');
  expect(lines.Trial).toContain('nobody has said yet');
  expect(
    Object.fromEntries(
      certificateLines({
        ...certificate,
        tracks: null,
        margin: null,
        blocks: { blockBytes: 512, written: 1000, proved: 998, failed: [{ from: 40, count: 2 }] },
        trial: { outcome: 'works', note: 'boots', by: 'Ingrid', at: '2026-11-28T10:30:00.000Z' },
      }),
    ),
  ).toMatchObject({
    Blocks: '998 of 1,000 of 512 bytes proved; failed: 2 from 40',
    Trial: 'works: boots (Ingrid, 2026-11-28, 10:30 UTC)',
  });
});

test('the schema in the docs is the one in use', () => {
  expect(
    JSON.parse(
      readFileSync(join(__dirname, '../../../docs/formats/certificate.schema.json'), 'utf8'),
    ),
  ).toEqual(JSON.parse(JSON.stringify(certificateJsonSchema())));
});
