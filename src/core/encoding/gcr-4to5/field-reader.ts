/**
 * Reads headers and data blocks of 4-to-5 group code tracks (`docs/formats/layouts.md`, "zoned
 * group code").
 */
import { ByteArena } from '../byte-arena';
import type { DecodeOptions, FieldStart, ReadingDecode, SectorSighting } from '../encoding';
import type { CellStream } from '../recovery/cell-stream';
import { twinData } from '../twin-data';
import { bytesOfWords } from './groups';

export const ID_BLOCK = 0x08;
export const DATA_BLOCK = 0x07;
export const DATA_BYTES = 256;
/** Block byte, data, check, two zeros. */
export const BLOCK_BYTES = 1 + DATA_BYTES + 1 + 2;
const HEADER_BYTES = 8;

/**
 * Ten cells with transitions, then the start of a block byte, 0 1: sync as the written rule has it.
 */
const SYNC = 0b111111111101;
const SYNC_MASK = 0xfff;
const PREFIX_CELLS = 2;
const HEADER_WORDS = (HEADER_BYTES * 10) / 16;
const BLOCK_WORDS = Math.ceil((BLOCK_BYTES * 10) / 16);
/**
 * From a header's end to the end of the data block's sync, in cells: a gap of 9 bytes and 40 cells
 * of sync, and as much again.
 */
const MAX_DISTANCE = 240;

/** XOR of the data bytes, which the block's check equals. */
export function checkOf(data: Uint8Array, from = 0): number {
  let check = 0;
  for (let i = 0; i < DATA_BYTES; i++) check ^= data[from + i]!;
  return check;
}

export class FieldReader {
  private readonly words = new Uint16Array(BLOCK_WORDS + 1);
  private readonly bytes = new Uint8Array(BLOCK_BYTES + 1);
  private readonly arena = new ByteArena();

  /** In one piece, as the state of a turn: what a field opened, the next may close or leave. */
  read(stream: CellStream, { recovery, enough, cellTicks }: DecodeOptions): ReadingDecode {
    const { words, bytes } = this;
    const sightings: SectorSighting[] = [];
    const badIds: FieldStart[] = [];
    let open: SectorSighting | null = null;
    while (stream.find(SYNC, SYNC_MASK)) {
      const { at: syncAt, time: syncTime } = stream;
      if (enough && syncTime > enough.afterTicks && enough.test(sightings, badIds.length)) break;
      stream.align(stream.register & 3, PREFIX_CELLS);
      if (stream.take(words, 1) < 1) break;
      const first = bytesOfWords(words, bytes, 1) === 0 ? bytes[0]! : -1;
      if (first === ID_BLOCK) {
        const invalid =
          stream.take(words.subarray(1), HEADER_WORDS - 1) === HEADER_WORDS - 1
            ? bytesOfWords(words, bytes, HEADER_BYTES)
            : HEADER_BYTES;
        const [, check, r, c, id2, id1] = bytes as unknown as [
          number,
          number,
          number,
          number,
          number,
          number,
        ];
        if (invalid === 0 && check === (r ^ c ^ id2 ^ id1)) {
          open = {
            encoding: 'gcr-4to5',
            c,
            h: null,
            r,
            n: null,
            idExtra: { id1, id2 },
            size: DATA_BYTES,
            mark: null,
            data: null,
            dataOk: false,
            check: -1,
            violations: 0,
            intact: false,
            startTick: syncTime - stream.ticksOfRunsBefore(syncAt, 1, 1 << 1),
            endTick: stream.time,
            syncTick: 0,
            syncCells: 0,
            recovery,
          };
          sightings.push(open);
        } else {
          badIds.push({ syncTick: syncTime, syncCells: 0 });
          stream.seek(syncAt, syncTime);
        }
      } else if (
        first === DATA_BLOCK &&
        open &&
        syncTime - open.endTick <= MAX_DISTANCE * cellTicks
      ) {
        open.mark = DATA_BLOCK;
        open.syncTick = syncTime;
        // The block's first two cells end at the transition that was found.
        open.syncCells = 1 - PREFIX_CELLS;
        const taken = 1 + stream.take(words.subarray(1), BLOCK_WORDS - 1);
        const whole = taken === BLOCK_WORDS;
        const length = Math.min(BLOCK_BYTES, Math.floor((taken * 16) / 10));
        open.violations = bytesOfWords(words, bytes, length);
        open.endTick = stream.time;
        if (whole) {
          open.check = bytes[1 + DATA_BYTES]!;
          open.dataOk = open.check === checkOf(bytes, 1);
          open.intact = bytes[2 + DATA_BYTES] === 0 && bytes[3 + DATA_BYTES] === 0;
        }
        open.data =
          twinData(sightings, open, bytes, 1) ??
          this.arena.keep(bytes, 1, Math.min(length, 1 + DATA_BYTES));
        if (!open.dataOk) stream.seek(syncAt, syncTime);
        open = null;
      } else {
        stream.seek(syncAt, syncTime);
      }
    }
    return { sightings, badIds, strays: [], cellTicks };
  }
}
