/**
 * Every family of file systems that is known. What is here is looked for, opened and laid open, and
 * changed where it can be; between equal evidence the first counts.
 */
import { CATALOGUE16 } from './catalogue16/family';
import { CPM } from './cpm/family';
import { D64 } from './d64/family';
import { DISC } from './disc-family';
import { FAT } from './fat/family';
import type { VolumeFamily } from './family';
import { GRANULE } from './granule/family';
import { PRODOS } from './prodos/family';
import { SAMPLER } from './sampler/family';
import { WAVESAMPLE } from './wavesample/family';

export const VOLUME_FAMILIES: readonly VolumeFamily[] = Object.freeze([
  FAT,
  DISC,
  D64,
  PRODOS,
  CATALOGUE16,
  GRANULE,
  SAMPLER,
  CPM,
  WAVESAMPLE,
]);

export const familyOf = (filesystem: string): VolumeFamily | null =>
  VOLUME_FAMILIES.find(({ filesystems }) => filesystems.includes(filesystem)) ?? null;
