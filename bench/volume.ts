/** FAT listing: a volume of two hundred files, beside gunzip of the same image. */
import { gunzipSync, gzipSync } from 'node:zlib';
import { memorySource } from '@/core/bits/byte-source';
import { identifyVolumes } from '@/core/identify/identify';
import { shippedLayout } from '@/core/layout/shipped';
import { buildFat12 } from '../demo/fat-builder';
import { time } from './measure';

export async function benchVolume() {
  const files = Array.from({ length: 200 }, (_, i) => ({
    path: `FILE${String(i).padStart(4, '0')}.TXT`,
    bytes: new Uint8Array(4000).fill(i),
    modified: '1990-01-01T00:00:00',
  }));
  const image = buildFat12(shippedLayout('mfm-35-18x512')!, 'BENCH', files);
  const packed = gzipSync(image);
  const list = await time(() => identifyVolumes(memorySource(image)), 21);
  const gunzip = await time(() => gunzipSync(packed), 21);
  return { files: files.length, list, gunzip, ratio: list.medianMs / gunzip.medianMs };
}
