/**
 * Lays sectors out as MFM cells (ECMA-78, ECMA-100, ISO 8860: track layout): gaps of 4Eh, sync of 00h, A1h marks with
 * a missing clock, ID and data fields with their checks.
 */
import { crc16 } from '../../bits/crc16';
import type { TrackFormat } from '../../layout/layout';
import type { SectorToWrite } from '../encoding';
import { CRC_AFTER_SYNC, MARK_DATA, MARK_DELETED, MARK_ID, MARK_INDEX, SYNC_A1, SYNC_C2 } from './marks';

const GAP = 0x4e;

/** Writes bytes as half cells, one a byte of `cells`, following the rule of the bit before. */
class CellWriter {
  private at = 0;
  private last = 0;

  constructor(private readonly cells: Uint8Array) {}

  get room(): number {
    return this.cells.length - this.at;
  }

  bytes(bytes: Uint8Array | readonly number[]): void {
    for (const byte of bytes) this.byte(byte);
  }

  fill(byte: number, count: number): void {
    for (let i = 0; i < count; i++) this.byte(byte);
  }

  byte(byte: number): void {
    this.need(16);
    for (let bit = 7; bit >= 0; bit--) {
      const data = (byte >>> bit) & 1;
      this.cells[this.at++] = data || this.last ? 0 : 1;
      this.cells[this.at++] = data;
      this.last = data;
    }
  }

  /** A pattern of 16 half cells as it is. */
  raw(pattern: number, count: number): void {
    this.need(16 * count);
    for (let i = 0; i < count; i++) for (let bit = 15; bit >= 0; bit--) this.cells[this.at++] = (pattern >>> bit) & 1;
    this.last = pattern & 1;
  }

  /** Gap bytes to the end of the turn; a last part of a byte is left without transitions being cut. */
  gapToEnd(): void {
    while (this.room >= 16) this.byte(GAP);
    for (let bit = 7; this.room > 0; bit--) {
      const data = (GAP >>> bit) & 1;
      this.cells[this.at++] = data || this.last ? 0 : 1;
      if (this.room > 0) this.cells[this.at++] = data;
      this.last = data;
    }
  }

  private need(count: number): void {
    if (this.room < count) throw new RangeError(`sectors do not fit on the track: its turn has ${this.cells.length} half cells, all of them used`);
  }
}

function check(bytes: readonly number[] | Uint8Array): [number, number] {
  const crc = crc16(Uint8Array.from(bytes), 0, bytes.length, CRC_AFTER_SYNC);
  return [crc >>> 8, crc & 0xff];
}

/** One turn of half cells from the index on; see `Encoding.encode`. */
export function encodeMfmTrack(sectors: readonly SectorToWrite[], format: TrackFormat, turnCells: number): Uint8Array {
  const cells = new Uint8Array(turnCells);
  const writer = new CellWriter(cells);
  const { gaps } = format;
  const sync = () => {
    writer.fill(0, gaps.syncBytes);
    writer.raw(SYNC_A1, 3);
  };
  writer.fill(GAP, gaps.postIndex);
  if (gaps.indexMark) {
    writer.fill(0, gaps.syncBytes);
    writer.raw(SYNC_C2, 3);
    writer.byte(MARK_INDEX);
    writer.fill(GAP, gaps.afterIndexMark);
  }
  for (const { c, h, r, n, data, deleted } of sectors) {
    const id = [MARK_ID, c, h, r, n];
    sync();
    writer.bytes([...id, ...check(id)]);
    writer.fill(GAP, gaps.idToData);
    sync();
    const field = new Uint8Array(data.length + 1);
    field[0] = deleted ? MARK_DELETED : MARK_DATA;
    field.set(data, 1);
    writer.bytes(field);
    writer.bytes(check(field));
    writer.fill(GAP, Math.min(gaps.afterData, Math.floor(writer.room / 16)));
  }
  writer.gapToEnd();
  return cells;
}
