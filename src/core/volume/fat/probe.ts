/**
 * Whether an image holds a FAT volume, by its boot record, its tables and its root directory; where
 * the first is lost, by the others.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  OLD_DISK_HEAD,
  geometryOfMediaByte,
  parseBootSector,
  type FatGeometry,
} from './boot-sector';
import { isPlausibleEntry } from './directory';
import type { KnownOfImage } from '../family';
import { geometryByContents } from './geometry-by-contents';
import { ENTRY } from './records';
import { said, type Said } from '@/core/said';

/** What speaks for FAT, from 0 to 1, with the geometry to open it by. */
export interface FatEvidence {
  geometry: FatGeometry;
  confidence: number;
  reasons: Said[];
}

/** Above this no boot sector needs a second opinion. */
const SURE = 0.75;

/** What was guessed is never as sure as what is stated, or as a table of partitions. */
const MOST_OF_A_GUESS = 0.75;

/** Looks for a FAT volume at the start of the source; null where there is none. */
export async function probeFat(
  source: ByteSource,
  { isInside }: KnownOfImage = {},
): Promise<FatEvidence | null> {
  const head = await source.read(0, OLD_DISK_HEAD);
  const geometry = parseBootSector(head) ?? geometryOfMediaByte(head, source.size);
  const stated = geometry && (await weigh(source, geometry, head));
  if (stated && stated.confidence >= SURE) return stated;
  const left = isInside ? null : await geometryByContents(source);
  const guessed = left && (await weigh(source, left, head));
  // A parameter block and nothing behind it that fits is no volume.
  const [best] = [stated, guessed && { ...guessed, confidence: atMost(guessed.confidence) }]
    .filter((each) => each !== null && each.confidence >= ENOUGH)
    .sort((a, b) => b!.confidence - a!.confidence);
  return best ?? null;
}

const ENOUGH = 0.5;

const atMost = (confidence: number) => Math.min(confidence, MOST_OF_A_GUESS);

const REASONS: Readonly<Record<FatGeometry['from'], (media: string) => Said>> = Object.freeze({
  'parameter-block': () => said('fat.theParameterBlockIs'),
  'media-byte': (media: string) => said('fat.mediaByteHFits', { media }),
  backup: () => said('fat.theCopyOfTheBoot'),
  contents: () => said('fat.tablesAndDirectoriesFit'),
});

/** What speaks for a geometry. */
async function weigh(
  source: ByteSource,
  geometry: FatGeometry,
  head: Uint8Array,
): Promise<FatEvidence> {
  const { media, from, fatStart, fatSectors, fatCount, bytesPerSector } = geometry;
  const reasons = [REASONS[from](media.toString(16).toUpperCase())];
  let confidence = 0.4;
  let begin = 0;
  for (let copy = 0; copy < Math.min(2, fatCount); copy++) {
    const table = await source.read((fatStart + copy * fatSectors) * bytesPerSector, 4);
    if (table[0] === media && table[1] === 0xff) begin++;
  }
  if (begin > 0) {
    confidence += 0.3;
    reasons.push(said('fat.theTableStartsWith'));
  }
  // The same twice is no chance, whatever the directory looks like.
  if (begin === 2) confidence += 0.1;
  if (geometry.width !== 32) {
    confidence = await weighRoot(source, geometry, confidence, reasons);
  } else confidence += 0.2;
  if (head[510] === 0x55 && head[511] === 0xaa) confidence += 0.1;
  return { geometry, confidence, reasons };
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
