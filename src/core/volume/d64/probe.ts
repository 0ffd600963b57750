/** Whether an image holds a volume of the .d64 family, by its map and directory. */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { ProblemList } from '../extent-volume';
import { D64Sectors } from './chains';
import {
  SECTOR,
  SIDE_TRACKS,
  blockOf,
  blocksIn,
  geometryOfSize,
  type D64Geometry,
} from './geometry';
import { FORMAT_BYTES, PER_SECTOR, TRACK_MAP_BYTES, ones } from './records';
import { entriesIn, isWellFormed, leadsOn, provenIn } from './stray-directory';
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
  if (confidence >= ENOUGH) return { geometry, confidence: Math.min(1, confidence), reasons };
  return byFiles(source, geometry, directory);
}

const ENOUGH = 0.5;

/** Where the header is lost: files that are as long as the directory says. */
async function byFiles(
  source: ByteSource,
  geometry: D64Geometry,
  directory: Uint8Array,
): Promise<D64Evidence | null> {
  if (directory.length < SECTOR || !leadsOn(directory, geometry)) return null;
  const image = await source.read(0, blocksIn(geometry) * SECTOR);
  const sectors = new D64Sectors(image, geometry, new ProblemList());
  const { used, proven } = provenIn(sectors, directory);
  if (proven === 0 || proven * 2 < used) return null;
  return {
    geometry,
    confidence: OF_WHAT_IS_LEFT,
    reasons: [said('d64.ofFilesAreAs', { used, proven })],
  };
}

function weighDirectory(
  directory: Uint8Array,
  geometry: D64Geometry,
  confidence: number,
  reasons: Said[],
  directoryTrack: number,
) {
  const wellFormed = entriesIn(directory).filter((entry) => isWellFormed(entry, geometry)).length;
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
