/** Whether an image holds a UDF volume: its recognition sequence and its anchor (ECMA-167). */
import type { ByteSource } from '@/core/bits/byte-source';
import { findAnchor } from './anchor';
import { SECTOR, ascii } from './records';
import { said, type Said } from '@/core/said';

const RECOGNITION = 16 * SECTOR;
const LARGE_SECTOR = 4096;
/** The first anchor of the smallest sectors, and all in front of it. */
const LEAST_BYTES = 257 * 512;

/**
 * Descriptors that say it is a disc of this kind stand right behind those of ISO 9660, each in a
 * sector of its own where sectors are larger than those of discs.
 */
const hasRecognition = async (source: ByteSource): Promise<boolean> =>
  (await hasSequence(source, SECTOR)) || hasSequence(source, LARGE_SECTOR);

async function hasSequence(source: ByteSource, step: number): Promise<boolean> {
  for (let at = RECOGNITION, count = 0; count < 64; at += step, count++) {
    const bytes = await source.read(at, 6);
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
