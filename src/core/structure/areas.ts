/** The parts of a volume that its system keeps for itself, with the fields in them. */
import type { ByteSource } from '../bits/byte-source';
import { familyOf } from '../volume/families';
import { MASTER_BOOT_RECORD } from '../volume/partitioned/partitions';
import { readAreas, type Area } from './structure';

/**
 * The system's own areas of a volume, in order; places are in `source`, which begins where the
 * volume does. `mbr` stands for the table of a disk that is parted.
 */
export async function areasOf(source: ByteSource, filesystem: string): Promise<Area[]> {
  if (filesystem === 'mbr') return readAreas(source, [MASTER_BOOT_RECORD]);
  const areas = await familyOf(filesystem)?.areas?.(source, filesystem);
  return readAreas(source, areas ?? []);
}
