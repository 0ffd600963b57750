/** Whether an image holds a volume of the .d64 family, by its map and directory. */
import type { ByteSource } from '@/core/bits/byte-source';
import { blockOf, geometryOfSize, type D64Geometry } from './geometry';
import { SECTOR, PARTITION, ones } from './records';
import { said, type Said } from '@/core/said';

export interface D64Evidence {
  geometry: D64Geometry;
  confidence: number;
  reasons: Said[];
}

/** Looks for the header where its kind keeps it. */
export async function probeD64(source: ByteSource): Promise<D64Evidence | null> {
  const geometry = geometryOfSize(source.size);
  if (!geometry) return null;
  const { directoryTrack, directorySector, kind } = geometry;
  const at = blockOf(geometry, directoryTrack, 0) * SECTOR;
  const header = await source.read(at, SECTOR);
  if (header.length < SECTOR) return null;
  const reasons: Said[] = [];
  let confidence = 0;
  if (header[0] === directoryTrack && header[1] === directorySector) {
    confidence += 0.3;
    reasons.push(said('d64.trackSector0Leads', { directoryTrack }));
  }
  if (header[2] === (kind === 'd81' ? 0x44 : 0x41)) {
    confidence += 0.25;
    reasons.push(said('d64.itsFormatByteIs'));
  }
  const directory = await source.read(
    blockOf(geometry, directoryTrack, directorySector) * SECTOR,
    SECTOR,
  );
  if (directory.length === SECTOR) {
    confidence = weighDirectory(directory, geometry, confidence, reasons, directoryTrack);
  }
  if (kind !== 'd81' && geometry.tracks >= 35) {
    confidence = weighFreeCounts(header, confidence, reasons);
  } else confidence += 0.1;
  return confidence >= 0.5 ? { geometry, confidence: Math.min(1, confidence), reasons } : null;
}

function weighDirectory(
  directory: Uint8Array,
  geometry: D64Geometry,
  confidence: number,
  reasons: Said[],
  directoryTrack: number,
) {
  const wellFormed = Array.from({ length: 8 }, (_, i) =>
    directory.subarray(i * 32, i * 32 + 32),
  ).filter(
    (entry) =>
      entry[2] === 0 ||
      ((entry[2]! & 0x0f) <= PARTITION && entry[3]! >= 1 && entry[3]! <= geometry.tracks),
  ).length;
  if (wellFormed === 8) {
    confidence += 0.2;
    reasons.push(said('d64.n8Of8'));
  }
  if (directory[0] === 0 || directory[0] === directoryTrack) confidence += 0.1;
  return confidence;
}

function weighFreeCounts(header: Uint8Array, confidence: number, reasons: Said[]) {
  const agree = Array.from({ length: 35 }, (_, i) => header.subarray(4 + i * 4, 8 + i * 4)).filter(
    (entry) => entry[0] === ones(entry.subarray(1)),
  ).length;
  if (agree >= 33) {
    confidence += 0.15;
    reasons.push(said('d64.of35FreeCounts', { agree }));
  }
  return confidence;
}
