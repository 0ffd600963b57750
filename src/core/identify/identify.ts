/** What volumes does an image hold? Decided by content, with ranked evidence; a name or extension never counts. */
import { sliceSource, type ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import { openFat, probeFat } from '../volume/fat/fat';
import type { Volume } from '../volume/volume';

/** A volume with where it lies in the image. */
export interface FoundVolume {
  volume: Volume;
  partition: number | null;
  offset: number;
  length: number;
  confidence: number;
  reasons: string[];
}

export interface Identification {
  volumes: FoundVolume[];
  problems: Problem[];
}

/** Opens every volume of the image. An image that holds none is a finding, not a failure. */
export async function identifyVolumes(source: ByteSource): Promise<Identification> {
  const fat = await probeFat(source);
  if (!fat) {
    const message = source.size === 0 ? 'The image is empty.' : 'No volume that this version knows was found: the image may be unformatted, damaged in its first sectors, or of another kind.';
    return { volumes: [], problems: [{ kind: 'unknown-format', message, offset: 0 }] };
  }
  const length = Math.min(source.size, fat.geometry.totalSectors * fat.geometry.bytesPerSector);
  const volume = await openFat(sliceSource(source, 0, length), fat);
  return { volumes: [{ volume, partition: null, offset: 0, length, confidence: fat.confidence, reasons: fat.reasons }], problems: [] };
}
