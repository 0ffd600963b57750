/** Whether an image holds a volume of the .d64 family, by its map and directory. */
import type { ByteSource } from '@/core/bits/byte-source';
import { SECTOR, SIDE_TRACKS, blockOf, geometryOfSize, type D64Geometry } from './geometry';
import {
  ENTRY,
  ENTRY_FIELDS,
  FORMAT_BYTES,
  PARTITION,
  PER_SECTOR,
  TRACK_MAP_BYTES,
  ones,
  typeIn,
} from './records';
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
  if (header[2] === FORMAT_BYTES[kind]) {
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

function isWellFormed(entry: Uint8Array, { tracks }: D64Geometry): boolean {
  if (entry[ENTRY_FIELDS.fileType.at] === 0) return true;
  const track = entry[ENTRY_FIELDS.firstSector.at]!;
  return typeIn(entry) <= PARTITION && track >= 1 && track <= tracks;
}

function weighDirectory(
  directory: Uint8Array,
  geometry: D64Geometry,
  confidence: number,
  reasons: Said[],
  directoryTrack: number,
) {
  const wellFormed = Array.from({ length: PER_SECTOR }, (_, i) =>
    directory.subarray(i * ENTRY, (i + 1) * ENTRY),
  ).filter((entry) => isWellFormed(entry, geometry)).length;
  if (wellFormed === PER_SECTOR) {
    confidence += 0.2;
    reasons.push(said('d64.n8Of8'));
  }
  if (directory[0] === 0 || directory[0] === directoryTrack) confidence += 0.1;
  return confidence;
}

function weighFreeCounts(header: Uint8Array, confidence: number, reasons: Said[]) {
  const agree = Array.from({ length: SIDE_TRACKS }, (_, i) =>
    header.subarray((i + 1) * TRACK_MAP_BYTES, (i + 2) * TRACK_MAP_BYTES),
  ).filter((entry) => entry[0] === ones(entry.subarray(1))).length;
  if (agree >= 33) {
    confidence += 0.15;
    reasons.push(said('d64.of35FreeCounts', { agree }));
  }
  return confidence;
}
