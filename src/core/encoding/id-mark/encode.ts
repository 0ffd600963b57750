/**
 * Lays sectors with ID fields out as cells (ECMA-54, ECMA-66 for FM; ECMA-78, ECMA-100, ISO 8860
 * for MFM: track
 * layout): gaps, sync, marks with missing clocks, ID and data fields with their checks.
 */
import { crc16 } from '../../bits/crc16';
import type { TrackFormat } from '../../layout/layout';
import { CellWriter } from '../cell-writer';
import type { SectorToWrite } from '../encoding';
import { FM_CODE, MFM_CODE } from './code';
import {
  FM_INDEX_CELLS,
  FM_MARK_CLOCK,
  MARK_DATA,
  MARK_DELETED,
  MARK_ID,
  MARK_INDEX,
  SYNC_A1,
  SYNC_C2,
} from './marks';

/** Cells of a byte with the given clocks, for FM. */
export function fmCells(byte: number, clock: number): number {
  let cells = 0;
  for (let bit = 7; bit >= 0; bit--)
    cells = (cells << 2) | (((clock >>> bit) & 1) << 1) | ((byte >>> bit) & 1);
  return cells;
}

/** How each code writes what a track is made of. */
const WRITES = {
  fm: {
    code: FM_CODE,
    gap: 0xff,
    byte(writer: CellWriter, byte: number) {
      writer.cells(fmCells(byte, 0xff), 16);
    },
    index(writer: CellWriter) {
      writer.cells(FM_INDEX_CELLS, 16);
    },
    mark(writer: CellWriter, mark: number) {
      writer.cells(fmCells(mark, FM_MARK_CLOCK), 16);
    },
  },
  mfm: {
    code: MFM_CODE,
    gap: 0x4e,
    byte(writer: CellWriter, byte: number) {
      let cells = 0;
      let last = writer.last;
      for (let bit = 7; bit >= 0; bit--) {
        const data = (byte >>> bit) & 1;
        cells = (cells << 2) | ((data || last ? 0 : 1) << 1) | data;
        last = data;
      }
      writer.cells(cells, 16);
    },
    index(writer: CellWriter) {
      for (let i = 0; i < 3; i++) writer.cells(SYNC_C2, 16);
      this.byte(writer, MARK_INDEX);
    },
    mark(writer: CellWriter, mark: number) {
      for (let i = 0; i < 3; i++) writer.cells(SYNC_A1, 16);
      this.byte(writer, mark);
    },
  },
};

/** One turn of half cells from the index on; see `Encoding.encode`. */
export function encodeIdMarkTrack(
  sectors: readonly SectorToWrite[],
  format: TrackFormat,
  turnCells: number,
): Uint8Array {
  const writes = WRITES[format.encoding === 'fm' ? 'fm' : 'mfm'];
  const writer = new CellWriter(turnCells);
  const { gaps } = format;
  const fill = (byte: number, count: number) => {
    for (let i = 0; i < count; i++) writes.byte(writer, byte);
  };
  const field = (mark: number, content: Uint8Array, wrong = false) => {
    fill(0, gaps.syncBytes);
    writes.mark(writer, mark);
    for (const byte of content) writes.byte(writer, byte);
    const crc =
      crc16(content, 0, content.length, crc16(Uint8Array.of(mark), 0, 1, writes.code.crcInitial)) ^
      (wrong ? 0xffff : 0);
    writes.byte(writer, crc >>> 8);
    writes.byte(writer, crc & 0xff);
  };
  fill(writes.gap, gaps.postIndex);
  if (gaps.indexMark) {
    fill(0, gaps.syncBytes);
    writes.index(writer);
    fill(writes.gap, gaps.afterIndexMark);
  }
  for (const { c, h, r, n, data, deleted, wrongCheck } of sectors) {
    field(MARK_ID, Uint8Array.of(c, h ?? 0, r, n ?? 0));
    fill(writes.gap, gaps.idToData);
    field(deleted ? MARK_DELETED : MARK_DATA, data, wrongCheck);
    fill(writes.gap, Math.min(gaps.afterData, Math.floor(writer.room / 16)));
  }
  while (writer.room >= 16) writes.byte(writer, writes.gap);
  writer.rest();
  return writer.track;
}
