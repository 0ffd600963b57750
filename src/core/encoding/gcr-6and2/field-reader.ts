/**
 * Reads address and data fields of 6-and-2 group code tracks (`docs/formats/layouts.md`, "6-and-2
 * group code").
 */
import { ByteArena } from '../byte-arena';
import type { DecodeOptions, FieldStart, ReadingDecode, SectorSighting } from '../encoding';
import type { CellStream } from '../recovery/cell-stream';
import { twinData } from '../twin-data';
import { DATA_BYTES, INVALID, VALUES, VALUE_OF_DISK_BYTE, bytesOfValuesInto } from './disk-bytes';

export const PROLOGUE = Object.freeze({ first: 0xd5, second: 0xaa, address: 0x96, data: 0xad });
export const EPILOGUE = Object.freeze([0xde, 0xaa, 0xeb]);

/** D5 AA without its last cell, which holds no transition. */
const START = 0xd5aa >> 1;
const START_CELLS = 15;
const START_MASK = 0x7fff;
/** Words from D5 AA to an address's epilogue, to a data field's check, and to its epilogue. */
const ADDRESS_WORDS = 7;
const CHECKED_WORDS = (3 + VALUES + 1) / 2;
const DATA_WORDS = CHECKED_WORDS + 1;
/** Intervals from the place found back to the sync; sync runs are 1 and 3 cells. */
const RUNS_OF_START = 8;
const SYNC_RUNS = (1 << 1) | (1 << 3);
/** From an address field's end to a data field's start: 60 sync bytes of 10 cells. */
const MAX_DISTANCE = 600;

/** A byte as two, each with every other cell set. */
export function fourAndFour(first: number, second: number): number {
  return (first & second & 0xaa) === 0xaa ? ((first << 1) | 1) & second & 0xff : -1;
}

const isEpilogue = (word: number) => word === ((EPILOGUE[0]! << 8) | EPILOGUE[1]!);

export class FieldReader {
  private readonly words = new Uint16Array(DATA_WORDS + 1);
  private readonly values = new Uint8Array(VALUES + 1);
  private readonly bytes = new Uint8Array(DATA_BYTES);
  private readonly arena = new ByteArena();

  /** In one piece, as the state of a turn: what a field opened, the next may close or leave. */
  read(stream: CellStream, { recovery, enough, cellTicks }: DecodeOptions): ReadingDecode {
    const { words, bytes } = this;
    const sightings: SectorSighting[] = [];
    const badIds: FieldStart[] = [];
    let open: SectorSighting | null = null;
    let addressIntact = false;
    while (stream.find(START, START_MASK)) {
      const { at: syncAt, time: syncTime } = stream;
      if (enough && syncTime > enough.afterTicks && enough.test(sightings, badIds.length)) break;
      stream.align(stream.register & START_MASK, START_CELLS);
      if (stream.take(words, 2) < 2) break;
      const kind = words[1]! >>> 8;
      if (kind === PROLOGUE.address) {
        const whole = stream.take(words.subarray(2), ADDRESS_WORDS - 2) === ADDRESS_WORDS - 2;
        // Words hold D5 AA, 96 v, v t, t s, s c, c DE, AA EB.
        const [volume, c, r, check] = [1, 2, 3, 4].map((word) =>
          fourAndFour(words[word]! & 0xff, words[word + 1]! >>> 8),
        ) as [number, number, number, number];
        if (whole && volume >= 0 && c >= 0 && r >= 0 && check === (volume ^ c ^ r)) {
          addressIntact = (words[5]! & 0xff) === EPILOGUE[0] && words[6]! >>> 8 === EPILOGUE[1];
          open = {
            encoding: 'gcr-6and2',
            c,
            h: null,
            r,
            n: null,
            idExtra: { volume },
            size: DATA_BYTES,
            mark: null,
            data: null,
            dataOk: false,
            check: -1,
            violations: 0,
            intact: false,
            startTick: syncTime - stream.ticksOfRunsBefore(syncAt, RUNS_OF_START, SYNC_RUNS),
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
        kind === PROLOGUE.data &&
        open &&
        syncTime - open.endTick <= MAX_DISTANCE * cellTicks
      ) {
        const taken = 2 + stream.take(words.subarray(2), DATA_WORDS - 2);
        open.mark = PROLOGUE.data;
        open.syncTick = syncTime;
        // AAh ends one cell behind the place found, the third prologue byte eight further.
        open.syncCells = 10;
        open.endTick = stream.time;
        this.decode(Math.min(taken, CHECKED_WORDS), open);
        open.intact = addressIntact && taken === DATA_WORDS && isEpilogue(words[CHECKED_WORDS]!);
        open.data =
          twinData(sightings, open, bytes, 0) ??
          this.arena.keep(bytes, 0, taken >= CHECKED_WORDS ? DATA_BYTES : 0);
        if (!open.dataOk) stream.seek(syncAt, syncTime);
        open = null;
      } else {
        stream.seek(syncAt, syncTime);
      }
    }
    return { sightings, badIds, strays: [], cellTicks };
  }

  /** Values and bytes of the words taken; what a cut field lacks counts as broken. */
  private decode(taken: number, open: SectorSighting): void {
    const { words, values, bytes } = this;
    let broken = 0;
    let value = 0;
    for (let i = 0; i <= VALUES; i++) {
      const at = i + 3;
      const word = at >>> 1 < taken ? words[at >>> 1]! : 0;
      const next = VALUE_OF_DISK_BYTE[at & 1 ? word & 0xff : word >>> 8]!;
      broken += next >>> 6;
      value = i < VALUES ? value ^ (next & (INVALID - 1)) : value;
      values[i] = i < VALUES ? value : next;
    }
    bytesOfValuesInto(values, bytes);
    open.violations = broken;
    if (taken < CHECKED_WORDS) return;
    open.check = values[VALUES]!;
    open.dataOk = broken === 0 && open.check === value;
  }
}
