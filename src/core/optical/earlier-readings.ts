/**
 * What a drive gave before of sectors that no reading made whole: each further reading is put
 * together with them, since a drive that fails often fails in other bytes.
 */
import type { RawSector } from './raw-sector';
import { checkReadings, type SectorReading } from './readings-together';

/** Readings kept of one sector: the first and the latest. */
const EACH = 4;
/** Sectors of which readings are kept: at most 40 MB, flags with them. */
const SECTORS = 2000;

export class EarlierReadings {
  private readonly kept = new Map<number, SectorReading[]>();

  /** Looks at a reading of the sector `lba` as `checkReadings` does, with what was kept of it. */
  check(reading: SectorReading, lba: number, mode: 1 | 2 | null): RawSector {
    const before = this.kept.get(lba) ?? [];
    const sector = checkReadings([reading, ...before], lba, mode);
    if (sector.verdict === 'unrepairable') this.keep(lba, before, reading);
    else this.kept.delete(lba);
    return sector;
  }

  private keep(lba: number, before: readonly SectorReading[], reading: SectorReading): void {
    if (before.length === 0 && this.kept.size >= SECTORS) return;
    // The caller may use the bytes again.
    const own = { ...reading, bytes: reading.bytes.slice() };
    this.kept.set(lba, [...before.slice(0, 1), ...before.slice(1).slice(2 - EACH), own]);
  }
}
