/** Boot sectors of volumes anywhere on a disk, for where no table leads to them any more. */
import type { ByteSource } from '@/core/bits/byte-source';
import { parseBootSector } from '../fat/boot-sector';

const SECTOR = 512;
const CHUNK = 1 << 20;

/** Bytes that are looked through. */
const MOST_BYTES = 2 ** 28;

const JUMPS = [0xeb, 0xe9];

interface Place {
  start: number;
  sectors: number;
}

/** The volume whose boot sector this is; null where it is none. */
function volumeAt(sector: Uint8Array, start: number, to: number): Place | null {
  if (sector[510] !== 0x55 || sector[511] !== 0xaa || !JUMPS.includes(sector[0]!)) return null;
  const geometry = parseBootSector(sector);
  if (!geometry) return null;
  const sectors = (geometry.totalSectors * geometry.bytesPerSector) / SECTOR;
  return start + sectors <= to ? { start, sectors } : null;
}

/** In sectors of 512 bytes, from `from` up to `to`; what lies within a volume that was found is not
 * looked at. */
export async function bootSectorsIn(
  source: ByteSource,
  from: number,
  to: number,
): Promise<Place[]> {
  const found: Place[] = [];
  const end = Math.min(to, from + MOST_BYTES / SECTOR);
  for (let start = from; start < end;) {
    const chunk = await source.read(start * SECTOR, Math.min(CHUNK, (end - start) * SECTOR));
    if (chunk.length < SECTOR) break;
    const first = start;
    for (let at = 0; at + SECTOR <= chunk.length && start === first + at / SECTOR; at += SECTOR) {
      const volume = volumeAt(chunk.subarray(at, at + SECTOR), start, to);
      if (volume) found.push(volume);
      start += volume?.sectors ?? 1;
    }
  }
  return found;
}
