/**
 * What tells FM and MFM apart when fields are read: the cells that a mark is found by, what a
 * byte looks like as 16
 * half cells, and what the check starts from. FM: ECMA-54, ECMA-66. MFM: ECMA-78, ECMA-100, ISO
 * 8860.
 */
import { CRC16_INITIAL } from '../../bits/crc16';
import { CRC_AFTER_SYNC, SYNC_A1 } from './marks';

/**
 * Flags above the byte in `byteOfCells`: the code's rule is broken if the bit before was 0, if it
 * was 1.
 */
const BREAKS_AFTER_0 = 0x100;
const BREAKS_AFTER_1 = 0x200;

export interface IdMarkCode {
  id: 'fm' | 'mfm';
  /** Cells that precede a mark, and which of them count; the last is always a transition. */
  pattern: number;
  mask: number;
  /** How many of the found cells belong to the first word taken. */
  prefixCells: number;
  /** Equal sync bytes that may stand between the found one and the mark: MFM has three A1h. */
  syncs: number;
  /** Register of the CRC before the mark byte. */
  crcInitial: number;
  /** Cells of a run of zeros before a mark, and intervals from the mark's end back to them. */
  syncRun: number;
  runsOfMark: number;
  /** For 16 half cells: the byte, and whether they break the rule. */
  byteOfCells: Uint16Array;
}

function dataBits(cells: number): number {
  let byte = 0;
  for (let bit = 7; bit >= 0; bit--) byte |= ((cells >>> (2 * bit)) & 1) << bit;
  return byte;
}

/** MFM: a clock stands between two zeros and nowhere else. */
function mfmBytes(): Uint16Array {
  const table = new Uint16Array(1 << 16);
  for (let cells = 0; cells < table.length; cells++) {
    const byte = dataBits(cells);
    let broken = 0;
    for (let bit = 7; bit >= 0; bit--) {
      const data = (byte >>> bit) & 1;
      const clock = (cells >>> (2 * bit + 1)) & 1;
      if (bit === 7) {
        if (clock !== (data ^ 1)) broken |= BREAKS_AFTER_0;
        if (clock !== 0) broken |= BREAKS_AFTER_1;
      } else if (clock !== ((data | ((byte >>> (bit + 1)) & 1)) ^ 1)) {
        broken |= BREAKS_AFTER_0 | BREAKS_AFTER_1;
      }
    }
    table[cells] = byte | broken;
  }
  return table;
}

/** FM: every bit has its clock. */
function fmBytes(): Uint16Array {
  const table = new Uint16Array(1 << 16);
  for (let cells = 0; cells < table.length; cells++)
    table[cells] =
      dataBits(cells) | ((cells & 0xaaaa) === 0xaaaa ? 0 : BREAKS_AFTER_0 | BREAKS_AFTER_1);
  return table;
}

export const MFM_CODE: IdMarkCode = {
  id: 'mfm',
  pattern: SYNC_A1,
  mask: 0xffff,
  prefixCells: 0,
  syncs: 3,
  crcInitial: CRC_AFTER_SYNC,
  syncRun: 2,
  // Into the first A1h, then 4, 3, 4 and 3 half cells.
  runsOfMark: 5,
  byteOfCells: mfmBytes(),
};

export const FM_CODE: IdMarkCode = {
  id: 'fm',
  // Four zeros, then a mark with clock C7h: FEh, FBh, FAh, F9h or F8h. Its last cell may hold no
  // transition, so the
  // place is found one cell before its end.
  pattern: 0xaaf56a >> 1,
  mask: 0xffffea >> 1,
  prefixCells: 15,
  syncs: 0,
  crcInitial: CRC16_INITIAL,
  syncRun: 2,
  runsOfMark: 11,
  byteOfCells: fmBytes(),
};
