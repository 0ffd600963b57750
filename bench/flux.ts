/** Flux figures: a whole double-density capture from container to checked sectors, beside gunzip of the same bytes. */
import { gunzipSync, gzipSync } from 'node:zlib';
import { readContainer } from '@/core/flux/container-reader';
import { buildFlatImage } from '@/core/image/flat';
import { SHIPPED_LAYOUTS, shippedLayout } from '@/core/layout/shipped';
import { allSectors, decodeCapture } from '@/core/reading/decode-capture';
import { nodeDigester } from '@/node/digester';
import { makeCapture } from './made-capture';
import { time } from './measure';

export async function benchFlux() {
  const rows = [];
  for (const id of ['mfm-35-9x512', 'mfm-35-18x512']) {
    const layout = shippedLayout(id)!;
    const { capture, image } = makeCapture(layout, 2);
    const packed = gzipSync(capture);
    const decode = (digest: boolean) => {
      const container = readContainer(capture, digest ? nodeDigester : null);
      return decodeCapture(container.header, container.tracks, SHIPPED_LAYOUTS);
    };
    const decoded = decode(true);
    if (Buffer.compare(buildFlatImage(layout, allSectors(decoded)).bytes, image) !== 0) throw new Error(`${id}: decoded wrongly`);
    const whole = await time(() => decode(true));
    const gunzip = await time(() => gunzipSync(packed));
    const parse = await time(() => readContainer(capture, null));
    const bare = await time(() => decode(false));
    rows.push({
      layout: id, captureMB: capture.length / 1e6, decode: whole, withoutDigest: bare, gunzip, parse,
      ratio: whole.medianMs / gunzip.medianMs,
      ratioWithoutDigest: bare.medianMs / gunzip.medianMs,
      mbPerSecond: capture.length / 1e3 / whole.medianMs,
      disksPerMinute: 60_000 / whole.medianMs,
      residentMB: process.memoryUsage().rss / 1e6,
    });
  }
  return rows;
}
