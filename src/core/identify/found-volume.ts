/** A volume that was found in an image. */
import type { Said } from '../said';
import type { Volume } from '../volume/volume';

/** A volume with where it lies in the image. */
export interface FoundVolume {
  volume: Volume;
  partition: number | null;
  offset: number;
  length: number;
  confidence: number;
  reasons: Said[];
}
