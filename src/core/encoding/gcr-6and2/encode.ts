/**
 * Lays sectors out as 6-and-2 group code cells: self-sync, address field, self-sync, data field,
 * self-sync.
 */
import type { TrackFormat } from '../../layout/layout';
import { CellWriter } from '../cell-writer';
import type { SectorToWrite } from '../encoding';
import { DISK_BYTES, VALUES, valuesOfBytes } from './disk-bytes';
import { EPILOGUE, PROLOGUE } from './field-reader';

/** FFh and two cells without a transition: a reader of bytes falls into step with it. */
const SELF_SYNC = 0b1111111100;
const SELF_SYNC_CELLS = 10;
const DEFAULT_VOLUME = 254;

export function encodeTrack(
  sectors: readonly SectorToWrite[],
  { gaps }: TrackFormat,
  turnCells: number,
): Uint8Array {
  const writer = new CellWriter(turnCells);
  const bytes = (...all: readonly number[]) => {
    for (const byte of all) writer.cells(byte, 8);
  };
  const sync = (count: number) => {
    for (let i = 0; i < count; i++) writer.cells(SELF_SYNC, SELF_SYNC_CELLS);
  };
  sync(gaps.postIndex);
  for (const { c, r, idExtra, data } of sectors) {
    const volume = idExtra?.volume ?? DEFAULT_VOLUME;
    bytes(PROLOGUE.first, PROLOGUE.second, PROLOGUE.address);
    for (const value of [volume, c, r, volume ^ c ^ r]) bytes((value >>> 1) | 0xaa, value | 0xaa);
    bytes(...EPILOGUE);
    sync(gaps.idToData);
    bytes(PROLOGUE.first, PROLOGUE.second, PROLOGUE.data);
    const values = valuesOfBytes(data);
    for (let i = 0, last = 0; i < VALUES; last = values[i++]!)
      bytes(DISK_BYTES[values[i]! ^ last]!);
    bytes(DISK_BYTES[values[VALUES - 1]!]!, ...EPILOGUE);
    sync(Math.min(gaps.afterData, Math.floor(writer.room / SELF_SYNC_CELLS)));
  }
  while (writer.room >= SELF_SYNC_CELLS) writer.cells(SELF_SYNC, SELF_SYNC_CELLS);
  writer.rest();
  return writer.track;
}
