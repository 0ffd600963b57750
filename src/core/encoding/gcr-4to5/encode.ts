/** Lays sectors out as 4-to-5 group code cells: sync, header, gap, sync, data block, gap. */
import type { TrackFormat } from '../../layout/layout';
import { CellWriter } from '../cell-writer';
import type { SectorToWrite } from '../encoding';
import { DATA_BLOCK, ID_BLOCK, checkOf } from './field-reader';
import { cellsOfByte } from './groups';

const GAP = 0x55;
const HEADER_END = 0x0f;
const DEFAULT_ID = 0x30;

export function encodeTrack(
  sectors: readonly SectorToWrite[],
  { gaps }: TrackFormat,
  turnCells: number,
): Uint8Array {
  const writer = new CellWriter(turnCells);
  const raw = (byte: number, count: number) => {
    for (let i = 0; i < count; i++) writer.cells(byte, 8);
  };
  const block = (bytes: Iterable<number>) => {
    raw(0xff, gaps.syncBytes);
    for (const byte of bytes) writer.cells(cellsOfByte(byte), 10);
  };
  raw(GAP, gaps.postIndex);
  for (const { c, r, idExtra, data } of sectors) {
    const { id1 = DEFAULT_ID, id2 = DEFAULT_ID } = idExtra ?? {};
    block([ID_BLOCK, r ^ c ^ id2 ^ id1, r, c, id2, id1, HEADER_END, HEADER_END]);
    raw(GAP, gaps.idToData);
    block([DATA_BLOCK, ...data, checkOf(data), 0, 0]);
    raw(GAP, Math.min(gaps.afterData, Math.floor(writer.room / 8)));
  }
  while (writer.room >= 8) writer.cells(GAP, 8);
  writer.rest();
  return writer.track;
}
