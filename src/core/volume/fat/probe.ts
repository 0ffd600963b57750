/** Whether an image holds a FAT volume, by its boot record and its table alone. */
import type { ByteSource } from '@/core/bits/byte-source';
import { geometryOfMediaByte, parseBootSector, type FatGeometry } from './boot-sector';
import { isPlausibleEntry } from './directory';
import { ENTRY } from './records';
import { said, type Said } from '@/core/said';

/** What speaks for FAT, from 0 to 1, with the geometry to open it by. */
export interface FatEvidence {
  geometry: FatGeometry;
  confidence: number;
  reasons: Said[];
}

/** Looks for a FAT volume at the start of the source; null where there is none. */
export async function probeFat(source: ByteSource): Promise<FatEvidence | null> {
  const head = await source.read(0, 1024);
  const stated = parseBootSector(head);
  const geometry = stated ?? geometryOfMediaByte(head.subarray(512), source.size);
  if (!geometry) return null;
  const reasons = [
    geometry.from === 'parameter-block'
      ? said('fat.theParameterBlockIs')
      : said('fat.mediaByteHFits', { media: geometry.media.toString(16).toUpperCase() }),
  ];
  let confidence = 0.4;
  const table = await source.read(geometry.fatStart * geometry.bytesPerSector, 4);
  if (table[0] === geometry.media && table[1] === 0xff) {
    confidence += 0.3;
    reasons.push(said('fat.theTableStartsWith'));
  }
  if (geometry.width !== 32) {
    confidence = await weighRoot(source, geometry, confidence, reasons);
  } else confidence += 0.2;
  if (head[510] === 0x55 && head[511] === 0xaa) confidence += 0.1;
  // A parameter block and nothing behind it that fits is no volume.
  return confidence >= 0.5 ? { geometry, confidence, reasons } : null;
}

async function weighRoot(
  source: ByteSource,
  geometry: FatGeometry,
  confidence: number,
  reasons: Said[],
) {
  const root = await source.read(
    geometry.rootStart * geometry.bytesPerSector,
    Math.min(geometry.rootEntries * ENTRY, 4096),
  );
  let plausible = 0;
  let used = 0;
  for (let at = 0; at + ENTRY <= root.length && root[at] !== 0; at += ENTRY, used++)
    if (isPlausibleEntry(root.subarray(at, at + ENTRY))) plausible++;
  if (plausible === used) {
    confidence += 0.2;
    reasons.push(said('fat.ofRootEntriesLooked', { used }));
  } else confidence -= 0.3 * (1 - plausible / used);
  return confidence;
}
