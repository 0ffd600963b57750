/**
 * Flux figures: a whole clean disk of each layout from container to checked sectors, on one thread
 * and two, beside gunzip of the same bytes.
 */
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { readContainer } from '@/core/flux/container-reader';
import { buildFlatImage } from '@/core/image/flat';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import {
  INLINE,
  allSectors,
  decodeCapture,
  type TrackWorkers,
} from '@/core/reading/decode/decode-capture';
import { decodePool } from '@/node/decode-pool';
import { nodeDigester } from '@/node/digester';
import { makeCapture } from './made-capture';
import { time } from './measure';

export async function benchFlux() {
  const rows = [];
  const pool = decodePool(join(process.cwd(), 'build', 'decode-thread.js'), 2);
  for (const layout of SHIPPED_LAYOUTS) {
    const { capture, image } = makeCapture(layout, 2);
    const packed = gzipSync(capture);
    const decode = (workers: TrackWorkers, digest: boolean) => {
      const container = readContainer(capture, digest ? nodeDigester : null);
      return decodeCapture(container.header, container.tracks, {
        layouts: SHIPPED_LAYOUTS,
        workers,
      });
    };
    const decoded = await decode(INLINE, true);
    if (Buffer.compare(buildFlatImage(layout, allSectors(decoded)).bytes, image) !== 0)
      throw new Error(`${layout.id}: decoded wrongly`);
    const one = await time(() => decode(INLINE, false));
    const two = await time(() => decode(pool, false));
    const whole = await time(() => decode(INLINE, true));
    const gunzip = await time(() => gunzipSync(packed));
    const parse = await time(() => readContainer(capture, null));
    rows.push({
      layout: layout.id,
      captureMB: capture.length / 1e6,
      one,
      two,
      whole,
      gunzip,
      parse,
      ratioOne: one.medianMs / gunzip.medianMs,
      ratioTwo: two.medianMs / gunzip.medianMs,
      ratioWhole: whole.medianMs / gunzip.medianMs,
      mbPerSecond: capture.length / 1e3 / one.medianMs,
      disksPerMinute: 60_000 / one.medianMs,
      residentMB: process.memoryUsage().rss / 1e6,
    });
  }
  pool.close();
  return rows;
}
