/** Whether an image holds a UDF volume: its recognition sequence and its anchor (ECMA-167). */
import type { ByteSource } from '@/core/bits/byte-source';
import { findAnchor } from './anchor';
import { SECTOR, ascii } from './records';
import { said, type Said } from '@/core/said';

/** The first anchor of the smallest sectors, and all in front of it. */
const LEAST_BYTES = 257 * 512;

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
  if (source.size < LEAST_BYTES) return null;
  const recognised = await hasRecognition(source);
  const anchor = await findAnchor(source);
  if (!recognised && !anchor) return null;
  const reasons = [
    ...(recognised ? [said('udf.theRecognitionSequenceNames')] : []),
    ...(anchor ? [said('udf.anAnchorStandsAt', { at: anchor.at / anchor.sectorBytes })] : []),
  ];
  return { confidence: recognised && anchor ? 0.98 : anchor ? 0.9 : 0.5, reasons };
}
