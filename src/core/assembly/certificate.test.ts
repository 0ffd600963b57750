/** The certificate's figures, and its schema in the docs. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { madeCertificate } from '../../../tests/support/made-certificate';
import { certificateJsonSchema, trackFigures } from './certificate';

const certificate = madeCertificate(
  trackFigures([
    { cylinder: 0, head: 0, proved: true, tries: 1, spread: 0.05 },
    { cylinder: 0, head: 1, proved: true, tries: 2, spread: 0.07 },
    { cylinder: 1, head: 0, proved: false, tries: 3, spread: 0.3 },
    { cylinder: 1, head: 1, proved: true, tries: 1, spread: null },
  ]),
);

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

test('the schema in the docs is the one in use', () => {
  expect(
    JSON.parse(
      readFileSync(join(__dirname, '../../../docs/formats/certificate.schema.json'), 'utf8'),
    ),
  ).toEqual(JSON.parse(JSON.stringify(certificateJsonSchema())));
});
