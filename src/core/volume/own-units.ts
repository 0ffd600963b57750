/** Sizes as a volume's own machine counts them. */
import { SECTOR as CATALOGUE16_SECTOR } from './catalogue16/records';
import { SECTOR as D64_SECTOR } from './d64/geometry';
import { GRANULE } from './granule/records';
import { BLOCK as PRODOS_BLOCK } from './prodos/records';
import { BLOCK as SAMPLER_BLOCK } from './sampler/records';

/** Bytes of a unit, and its name; FAT volumes count in bytes. */
const UNITS: Readonly<Record<string, readonly [bytes: number, name: string]>> = Object.freeze({
  d64: [D64_SECTOR, 'block'],
  d71: [D64_SECTOR, 'block'],
  d81: [D64_SECTOR, 'block'],
  prodos: [PRODOS_BLOCK, 'block'],
  catalogue16: [CATALOGUE16_SECTOR, 'sector'],
  cpm: [1024, 'K'],
  granule: [GRANULE, 'granule'],
  sampler: [SAMPLER_BLOCK, 'block'],
});

export const inUnits = (count: number, name: string): string =>
  name === 'K' ? `${count}K` : `${count} ${name}${count === 1 ? '' : 's'}`;

/** Free space, which is a whole number of units; null where its machine counts bytes. */
export function ownUnits(filesystem: string, bytes: number): string | null {
  const unit = UNITS[filesystem];
  return unit ? inUnits(Math.floor(bytes / unit[0]), unit[1]) : null;
}
