/** Whether raw sectors are scrambled still, as some drives hand them on. */
import type { ByteSource } from '../bits/byte-source';
import { RAW_BYTES, scramble } from './scramble';
import { hasHeader, hasSync } from './sector-header';

/** Some sectors are scrambled still: told by headers that make sense only without it. */
export async function isScrambled(
  source: ByteSource,
  { fileSector, sectors }: { fileSector: number; sectors: number },
): Promise<boolean> {
  let [plain, scrambled] = [0, 0];
  for (let i = 0; i < Math.min(sectors, 32); i++) {
    const sector = (
      await source.read(
        (fileSector + Math.floor((i * sectors) / Math.min(sectors, 32))) * RAW_BYTES,
        RAW_BYTES,
      )
    ).slice();
    if (sector.length < RAW_BYTES || !hasSync(sector)) continue;
    if (hasHeader(sector)) plain++;
    else {
      scramble(sector);
      if (hasHeader(sector)) scrambled++;
    }
  }
  return scrambled > plain;
}
