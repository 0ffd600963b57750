/** Sizes as a volume's own machine counts them. */

/** Bytes of a unit, and its name; FAT volumes count in bytes. */
const UNITS: Readonly<Record<string, readonly [bytes: number, name: string]>> = Object.freeze({
  d64: [256, 'block'],
  d71: [256, 'block'],
  d81: [256, 'block'],
  prodos: [512, 'block'],
  catalogue16: [256, 'sector'],
  cpm: [1024, 'K'],
  granule: [2304, 'granule'],
  sampler: [8192, 'block'],
});

export const inUnits = (count: number, name: string): string =>
  name === 'K' ? `${count}K` : `${count} ${name}${count === 1 ? '' : 's'}`;

/** Free space, which is a whole number of units; null where its machine counts bytes. */
export function ownUnits(filesystem: string, bytes: number): string | null {
  const unit = UNITS[filesystem];
  return unit ? inUnits(Math.floor(bytes / unit[0]), unit[1]) : null;
}
