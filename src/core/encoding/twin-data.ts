/**
 * A clean disk shows each sector in every turn; to keep its bytes once saves a tenth of the whole
 * decode.
 */
import type { SectorSighting } from './encoding';

/** The bytes of an earlier turn's sighting that are the same as `field` from `from` on, or null. */
export function twinData(
  sightings: readonly SectorSighting[],
  { dataOk, check, c, h, r, n }: SectorSighting,
  field: Uint8Array,
  from: number,
): Uint8Array | null {
  if (!dataOk) return null;
  for (let i = sightings.length - 2; i >= 0; i--) {
    const earlier = sightings[i]!;
    if (
      earlier.dataOk &&
      earlier.check === check &&
      earlier.r === r &&
      earlier.c === c &&
      earlier.h === h &&
      earlier.n === n
    )
      return equals(earlier.data!, field, from) ? earlier.data : null;
  }
  return null;
}

function equals(data: Uint8Array, field: Uint8Array, from: number): boolean {
  for (let i = 0; i < data.length; i++) if (data[i] !== field[from + i]) return false;
  return true;
}
