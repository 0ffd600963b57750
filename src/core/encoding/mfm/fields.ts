/**
 * Reads ID and data fields out of MFM cells: looks for the sync mark, takes bytes from there, checks them
 * (ECMA-78 and its kin; limits from the same standards).
 */
import { crc16 } from '../../bits/crc16';
import type { DecodeOptions, ReadingDecode, SectorSighting } from '../encoding';
import type { CellStream } from '../recovery/cell-stream';
import { CRC_AFTER_SYNC, MARK_ID, MAX_ID_TO_DATA, MAX_SIZE_CODE, SYNC_A1, isDataMark, sectorSize } from './marks';

const BREAKS_AFTER_0 = 0x100;
const BREAKS_AFTER_1 = 0x200;

/**
 * For 16 half cells: the data bits (every second one) below, and above them whether a clock is missing or too many
 * where the bit before was 0, and where it was 1.
 */
const BYTE_OF_CELLS = (() => {
  const table = new Uint16Array(1 << 16);
  for (let cells = 0; cells < table.length; cells++) {
    let byte = 0;
    let broken = 0;
    for (let bit = 7; bit >= 0; bit--) {
      const data = (cells >>> (2 * bit)) & 1;
      const clock = (cells >>> (2 * bit + 1)) & 1;
      byte |= data << bit;
      if (bit === 7) {
        if (clock !== (data ^ 1)) broken |= BREAKS_AFTER_0;
        if (clock !== 0) broken |= BREAKS_AFTER_1;
      } else if (clock !== ((data | (byte >>> (bit + 1)) & 1) ^ 1)) {
        broken |= BREAKS_AFTER_0 | BREAKS_AFTER_1;
      }
    }
    table[cells] = byte | broken;
  }
  return table;
})();

/** Mark, C, H, R, N and the check. */
const ID_BYTES = 7;
/** Intervals from the zeros before an A1h to its last transition: into its first, then 4, 3, 4 and 3 half cells. */
const RUNS_OF_A1 = 5;
/** The mark is two bytes behind the first A1h that is found; half a byte for speed. */
const SYNC_LIMIT = MAX_ID_TO_DATA - 2 + 0.5;

export class FieldReader {
  private readonly field = new Uint8Array(sectorSize(MAX_SIZE_CODE) + 8);
  private readonly words = new Uint16Array(sectorSize(MAX_SIZE_CODE) + 8);
  private lastWord = 0;
  /** Bytes of the last `take`, and how many of them break the code's rule of clocks. */
  private taken = 0;
  private violations = 0;

  /** Reads all fields of one reading; `cellTicks` is its mean half cell. */
  read(stream: CellStream, cellTicks: number, { recovery, enough }: DecodeOptions): ReadingDecode {
    const sightings: SectorSighting[] = [];
    const { field } = this;
    let badIds = 0;
    let open: SectorSighting | null = null;
    let openEnd = 0;
    while (stream.find(SYNC_A1)) {
      const { at: syncAt, time: syncTime } = stream;
      if (enough && syncTime > enough.afterTicks && enough.test(sightings, badIds)) break;
      const mark = this.takeMark(stream);
      if (mark === MARK_ID) {
        const [c, h, r, n] = this.take(stream, 1, ID_BYTES - 1) ? field.subarray(1, 5) : [];
        if (n !== undefined && n <= MAX_SIZE_CODE && crc16(field, 0, ID_BYTES, CRC_AFTER_SYNC) === 0) {
          open = {
            c: c!, h: h!, r: r!, n, size: sectorSize(n), mark: null, data: null, dataOk: false, check: -1, violations: 0,
            startTick: syncTime - stream.ticksOfRunBefore(syncAt, RUNS_OF_A1, 2), endTick: stream.time, recovery,
          };
          openEnd = stream.time;
          sightings.push(open);
        } else {
          badIds++;
          stream.seek(syncAt, syncTime);
        }
      } else if (open && isDataMark(mark) && syncTime - openEnd <= SYNC_LIMIT * 16 * cellTicks) {
        const whole = this.take(stream, 1, open.size + 2);
        open.mark = mark;
        open.endTick = stream.time;
        open.violations = this.violations;
        if (whole) {
          open.check = (field[open.size + 1]! << 8) | field[open.size + 2]!;
          open.dataOk = crc16(field, 0, open.size + 3, CRC_AFTER_SYNC) === 0;
        }
        open.data = this.twinData(sightings, open) ?? field.slice(1, 1 + Math.min(open.size, this.taken));
        // A field that fails may have been cut by a later one: look for marks inside it as well.
        if (!open.dataOk) stream.seek(syncAt, syncTime);
        open = null;
      }
    }
    return { sightings, badIds, cellTicks };
  }

  /**
   * The bytes of an earlier turn's sighting that are the same: a clean disk shows each sector in every turn, and to
   * keep them once saves a tenth of the whole decode.
   */
  private twinData(sightings: readonly SectorSighting[], open: SectorSighting): Uint8Array | null {
    if (!open.dataOk) return null;
    for (let i = sightings.length - 2; i >= 0; i--) {
      const { dataOk, data, check, c, h, r, n } = sightings[i]!;
      if (dataOk && check === open.check && r === open.r && c === open.c && h === open.h && n === open.n) return this.equals(data!) ? data : null;
    }
    return null;
  }

  private equals(data: Uint8Array): boolean {
    const { field } = this;
    for (let i = 0; i < data.length; i++) if (data[i] !== field[i + 1]) return false;
    return true;
  }

  /** The byte behind the A1h sync marks of which the first was found, into field[0]; −1 where the reading ends. */
  private takeMark(stream: CellStream): number {
    stream.align();
    this.lastWord = SYNC_A1;
    for (let syncs = 0; syncs < 3; syncs++) {
      if (!this.take(stream, 0, 1)) return -1;
      if (this.lastWord !== SYNC_A1) return this.field[0]!;
    }
    return -1;
  }

  /** Takes `length` bytes into the field from `from`; false where the reading ends before. */
  private take(stream: CellStream, from: number, length: number): boolean {
    const { field, words } = this;
    const taken = stream.take(words, length);
    let last = this.lastWord;
    let violations = 0;
    for (let i = 0; i < taken; i++) {
      const byte = BYTE_OF_CELLS[words[i]!]!;
      violations += (byte >>> (8 + (last & 1))) & 1;
      last = words[i]!;
      field[from + i] = byte;
    }
    this.lastWord = last;
    this.violations = violations;
    this.taken = taken;
    return taken === length;
  }
}
