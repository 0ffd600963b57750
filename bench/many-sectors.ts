/**
 * A capture with more than ten thousand sectors, as the strata must draw them: 64 sectors of 128
 * bytes on each of 160 tracks.
 */
import { writeFileSync } from 'node:fs';
import { parseLayout } from '@/core/layout/schema';
import { makeCapture } from './made-capture';

export function writeManySectors(path: string): void {
  const { layout, problems } = parseLayout({
    format: 'frail-spindle-layout',
    version: 1,
    id: 'bench-64x128',
    forms: ['3.5'],
    cylinders: 80,
    heads: 2,
    rpm: 300,
    tracks: [
      {
        cylinders: [0, 79],
        encoding: 'mfm',
        rateKbps: 500,
        sectors: { first: 1, count: 64, bytes: 128 },
        gaps: { indexMark: false, postIndex: 20, syncBytes: 10, idToData: 16, afterData: 10 },
      },
    ],
  });
  if (!layout) throw new Error(problems.join('; '));
  writeFileSync(path, makeCapture(layout, 2).capture);
}
