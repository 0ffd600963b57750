/** Where a byte of the volume lies on a disk whose sectors are skewed. */
import { type CpmParameters } from './parameters';

/** Where a byte behind the reserved tracks lies in the image. */
export function placeOfByte(
  { sectorBytes, sectorsPerTrack, reservedTracks, skew }: CpmParameters,
  at: number,
): number {
  const sector = Math.floor(at / sectorBytes);
  const track = reservedTracks + Math.floor(sector / sectorsPerTrack);
  return (
    (track * sectorsPerTrack + skew[sector % sectorsPerTrack]! - 1) * sectorBytes +
    (at % sectorBytes)
  );
}
