/**
 * Reads ID and data fields out of FM and MFM cells: looks for the mark, takes bytes from there,
 * checks them
 * (ECMA-54, ECMA-78 and their kin; limits from the same standards).
 */
import { crc16 } from '../../bits/crc16';
import { ByteArena } from '../byte-arena';
import type { DecodeOptions, FieldStart, ReadingDecode, SectorSighting } from '../encoding';
import type { CellStream } from '../recovery/cell-stream';
import { twinData } from '../twin-data';
import type { IdMarkCode } from './code';
import { MARK_ID, MAX_ID_TO_DATA, MAX_SIZE_CODE, isDataMark, sectorSize } from './marks';

/** Mark, C, H, R, N and the check. */
const ID_BYTES = 7;
/** Half a byte more for speed. */
const DISTANCE_LIMIT = MAX_ID_TO_DATA + 0.5;
const WORD = 16;

export class FieldReader {
  private readonly field = new Uint8Array(sectorSize(MAX_SIZE_CODE) + 8);
  private readonly words = new Uint16Array(sectorSize(MAX_SIZE_CODE) + 8);
  private readonly arena = new ByteArena();
  private lastWord = 0;
  /** Bytes of the last `take`, and how many of them break the code's rule of clocks. */
  private taken = 0;
  private violations = 0;
  /** Cells from the transition that `find` stopped at to the mark byte's first. */
  private markCells = 0;

  constructor(private readonly code: IdMarkCode) {}

  /**
   * Reads all fields of one reading. In one piece, as the state of a turn: what a field opened, the
   * next may close or leave.
   */
  read(stream: CellStream, { recovery, enough, cellTicks }: DecodeOptions): ReadingDecode {
    const { pattern, mask, id: encoding, crcInitial, syncRun, runsOfMark, syncs } = this.code;
    const sightings: SectorSighting[] = [];
    const badIds: FieldStart[] = [];
    const strays: FieldStart[] = [];
    const { field } = this;
    // What was found may lie up to two bytes before the mark itself.
    const limit = (DISTANCE_LIMIT - Math.max(0, syncs - 1)) * WORD * cellTicks;
    let open: SectorSighting | null = null;
    let openEnd = 0;
    while (stream.find(pattern, mask)) {
      const { at: syncAt, time: syncTime } = stream;
      if (enough && syncTime > enough.afterTicks && enough.test(sightings, badIds.length)) break;
      const mark = this.takeMark(stream);
      const { markCells } = this;
      if (mark === MARK_ID) {
        const [c, h, r, n] = this.take(stream, 1, ID_BYTES - 1) ? field.subarray(1, 5) : [];
        if (n !== undefined && n <= MAX_SIZE_CODE && crc16(field, 0, ID_BYTES, crcInitial) === 0) {
          open = {
            encoding,
            c: c!,
            h: h!,
            r: r!,
            n,
            idExtra: null,
            size: sectorSize(n),
            mark: null,
            data: null,
            dataOk: false,
            check: -1,
            violations: 0,
            intact: true,
            startTick: syncTime - stream.ticksOfRunsBefore(syncAt, runsOfMark, 1 << syncRun),
            endTick: stream.time,
            syncTick: 0,
            syncCells: 0,
            recovery,
          };
          openEnd = stream.time;
          sightings.push(open);
        } else {
          badIds.push({ syncTick: syncTime, syncCells: markCells });
          stream.seek(syncAt, syncTime);
        }
      } else if (open && isDataMark(mark) && syncTime - openEnd <= limit) {
        open.syncTick = syncTime;
        open.syncCells = markCells;
        const whole = this.take(stream, 1, open.size + 2);
        open.mark = mark;
        open.endTick = stream.time;
        open.violations = this.violations;
        if (whole) {
          open.check = (field[open.size + 1]! << 8) | field[open.size + 2]!;
          open.dataOk = crc16(field, 0, open.size + 3, crcInitial) === 0;
        }
        open.data =
          twinData(sightings, open, field, 1) ??
          this.arena.keep(field, 1, 1 + Math.min(open.size, this.taken));
        // A field that fails may have been cut by a later one: look for marks inside it as well.
        if (!open.dataOk) stream.seek(syncAt, syncTime);
        open = null;
      } else if (isDataMark(mark)) {
        strays.push({ syncTick: syncTime, syncCells: markCells });
        stream.seek(syncAt, syncTime);
      } else if (mark < 0) {
        // More syncs than there should be: a later one of them leads to the mark.
        stream.seek(syncAt, syncTime);
      }
    }
    return { sightings, badIds, strays, cellTicks };
  }

  /**
   * The byte behind the sync of which the place was found, into field[0]; −1 where the reading
   * ends.
   */
  private takeMark(stream: CellStream): number {
    const { prefixCells, syncs, pattern } = this.code;
    stream.align(stream.register & ((1 << prefixCells) - 1), prefixCells);
    this.lastWord = pattern;
    for (let count = 0; count < Math.max(1, syncs); count++) {
      if (!this.take(stream, 0, 1)) return -1;
      this.markCells = 1 + WORD * count - prefixCells;
      if (syncs === 0 || this.lastWord !== pattern) return this.field[0]!;
    }
    return -1;
  }

  /** Takes `length` bytes into the field from `from`; false where the reading ends before. */
  private take(stream: CellStream, from: number, length: number): boolean {
    const { field, words } = this;
    const { byteOfCells } = this.code;
    const taken = stream.take(words, length);
    let last = this.lastWord;
    let violations = 0;
    for (let i = 0; i < taken; i++) {
      const byte = byteOfCells[words[i]!]!;
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
