/** What is recorded on a track, in words. */
import { ENCODING_NAMES, describeSectors } from '@/core/layout/layout';
import type { FoundFormat } from './track-decoder';

/** "MFM, 9 × 512, numbers 1 to 9". */
export function describeFound({ encoding, sectors }: FoundFormat): string {
  if (sectors.length === 0) return `${ENCODING_NAMES[encoding]}, no sector read`;
  const numbers = sectors.map(({ r }) => r).sort((a, b) => a - b);
  const [first, last] = [numbers[0]!, numbers[numbers.length - 1]!];
  return (
    `${ENCODING_NAMES[encoding]}, ` +
    `${describeSectors([...sectors].sort((a, b) => a.r - b.r).map(({ size }) => ({ bytes: size })))}, ` +
    `${first === last ? `number ${first}` : `numbers ${first} to ${last}`}`
  );
}
