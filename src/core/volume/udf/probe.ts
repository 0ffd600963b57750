/** Whether an image holds a UDF volume: its recognition sequence and its anchor (ECMA-167). */
import type { ByteSource } from '@/core/bits/byte-source';
import { type Extent } from '../volume';
import { readTag, TAG } from './tags';
import { SECTOR, viewOf, ascii } from './records';
import { said, type Said } from '@/core/said';

/** Where an anchor may stand; the last sector counts from the end of the image. */
export function anchorPlaces(size: number): number[] {
  const last = Math.floor(size / SECTOR) - 1;
  return [...new Set([256, last - 256, last])].filter((sector) => sector > 0);
}

export async function findAnchor(
  source: ByteSource,
): Promise<{ at: number; main: Extent; reserve: Extent } | null> {
  for (const sector of anchorPlaces(source.size)) {
    const bytes = await source.read(sector * SECTOR, SECTOR);
    const tag = readTag(bytes, sector, sector * SECTOR, null);
    if (tag?.id !== TAG.anchor || !tag.sound || bytes.length < 32) continue;
    const view = viewOf(bytes);
    const extent = (at: number) => ({
      offset: view.getUint32(at + 4, true) * SECTOR,
      length: view.getUint32(at, true),
    });
    return { at: sector * SECTOR, main: extent(16), reserve: extent(24) };
  }
  return null;
}

/** Descriptors that say it is a disc of this kind stand right behind those of ISO 9660. */
async function hasRecognition(source: ByteSource): Promise<boolean> {
  for (let sector = 16; sector < 80; sector++) {
    const bytes = await source.read(sector * SECTOR, 6);
    if (bytes.length < 6) return false;
    const name = ascii(bytes.subarray(1, 6));
    if (name === 'NSR02' || name === 'NSR03') return true;
    if (!/^(CD001|BEA01|TEA01|BOOT2|CDW02)$/.test(name)) return false;
  }
  return false;
}

export async function probeUdf(
  source: ByteSource,
): Promise<{ confidence: number; reasons: Said[] } | null> {
  if (source.size < 257 * SECTOR) return null;
  const recognised = await hasRecognition(source);
  const anchor = await findAnchor(source);
  if (!recognised && !anchor) return null;
  const reasons = [
    ...(recognised ? [said('udf.theRecognitionSequenceNames')] : []),
    ...(anchor ? [said('udf.anAnchorStandsAt', { at: anchor.at / SECTOR })] : []),
  ];
  return { confidence: recognised && anchor ? 0.98 : anchor ? 0.9 : 0.5, reasons };
}
