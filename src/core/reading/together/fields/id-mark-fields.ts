/**
 * Sectors of FM and MFM in the account of a track (ECMA-54, ECMA-78 and their kin): marks with a
 * few cells wrong are marks still, and a field whose check fails is led by it to the likeliest
 * other reading.
 */
import { bytesOfBits } from '@/core/bits/bytes-of-bits';
import { crc16 } from '@/core/bits/crc16';
import { FM_CODE, MFM_CODE } from '@/core/encoding/id-mark/code';
import { fmCells } from '@/core/encoding/id-mark/encode';
import {
  MARK_ID,
  MAX_ID_TO_DATA,
  MAX_SIZE_CODE,
  SYNC_A1,
  FM_MARK_CLOCK,
  isDataMark,
  sectorSize,
} from '@/core/encoding/id-mark/marks';
import type { CellMetric } from '../cell-metric';
import { checkLed, IN_PAIRS } from './check-led';
import { FieldTrellis } from './field-trellis';
import { cellsOf, cellsOfPath, middleOf, placesOf, type FieldRead } from './fields-of-track';
import { metricAt, type TrackAccount } from '../track-account';

/** A field is claimed where it is another one less often than this, by the account of its times. */
const MOST_WRONG = 1e-6;
/**
 * And where so few ways cost as little: the account holds only where the track is what the model
 * takes it for, and of anything else the check lets one way in 65,536 through.
 */
const MOST_CANDIDATES = 60;
const MOST_ID_CANDIDATES = 8;
const MFM_WRONG = 7;
const FM_WRONG = 4;
/** Of an ID behind its mark: four bytes and a check, less the sync of two bytes before a mark. */
const ID_CELLS = 16 * 4;
/** Cells around the usual distance within which a data mark is looked for first. */
const NEAR = 48;

/** Of a stretch that no piece of the account has. */
const NOTHING_READ: CellMetric = { from: 0, cells: 0, kinds: 0, values: new Float32Array() };

/** A mark: where the field behind it begins, with what it begins. */
interface Mark {
  /** First cell of the sync that was found, and of the field. */
  from: number;
  start: number;
  /** The byte where the pattern itself holds it (FM), else null. */
  byte: number | null;
  anchor: number;
  anchorRun: number;
}

interface Bytes {
  /** The mark's byte first. */
  bytes: Uint8Array;
  ok: boolean;
  /** Chance that they are others; 1 where they are not claimed. */
  wrong: number;
}

export function idMarkFields(account: TrackAccount, isMfm: boolean): FieldRead[] {
  return new IdMarkTrack(account, isMfm).read();
}

class IdMarkTrack {
  private readonly marks: Mark[];

  constructor(
    private readonly account: TrackAccount,
    private readonly isMfm: boolean,
  ) {
    const cells = cellsOfPath(account.path, account.end);
    this.marks = isMfm ? mfmMarks(cells) : fmMarks(cells);
  }

  read(): FieldRead[] {
    const ids = this.marks.flatMap((mark) => {
      const id = this.idAt(mark);
      return id && mark.from < this.account.cells ? [{ mark, ...id }] : [];
    });
    const dataMarks = this.marks.filter((mark) => this.isData(mark));
    const most = (MAX_ID_TO_DATA + 4) * 16;
    const behind = ids.map(({ mark }) =>
      dataMarks.find(({ from }) => from >= mark.start + ID_CELLS && from - mark.start < most),
    );
    const usual = middleOf(
      behind.flatMap((data, i) => (data ? [data.from - ids[i]!.mark.from] : [])),
    );
    return ids.flatMap(({ mark, c, h, r, n }, i) => {
      const found = behind[i];
      const isNear = found && (usual === null || Math.abs(found.from - mark.from - usual) < NEAR);
      const data = isNear ? found : usual === null ? found : this.markAt(mark.from + usual);
      return data ? [this.sectorAt(mark, data, { c, h, r, n })] : [];
    });
  }

  private markAt(from: number): Mark {
    return this.isMfm ? mfmMark(from) : fmMark(from, 0xfb);
  }

  private trellis({ start, anchor, anchorRun }: Mark, bytes: number): FieldTrellis {
    const { isMfm, account } = this;
    const asked = { start, bits: 8 * bytes, anchor, anchorRun, isMfm };
    return new FieldTrellis(metricAt(account, start) ?? NOTHING_READ, account.model, asked);
  }

  /** What a field holds, its check led to where it fails; the mark's byte first. */
  private bytesAt(mark: Mark, length: number, mostCandidates: number): Bytes {
    const own = mark.byte === null ? length + 1 : length;
    const trellis = this.trellis(mark, own);
    const bytes = () => {
      const field = bytesOfBits(trellis.bits);
      return mark.byte === null ? field : Uint8Array.of(mark.byte, ...field);
    };
    const { crcInitial } = this.isMfm ? MFM_CODE : FM_CODE;
    const plain = bytes();
    const failing = crc16(plain, 0, plain.length, crcInitial);
    if (!trellis.isThere) return { bytes: plain, ok: false, wrong: 1 };
    const { likeliest, further } = trellis.detours(IN_PAIRS);
    const led = checkLed(likeliest, 8 * own, failing, further);
    if (!led || led.candidates > mostCandidates || led.wrong > MOST_WRONG)
      return { bytes: plain, ok: false, wrong: 1 };
    for (const bit of led.flips) trellis.bits[bit]! ^= 1;
    return { bytes: bytes(), ok: true, wrong: led.wrong };
  }

  private idAt(mark: Mark): { c: number; h: number; r: number; n: number } | null {
    if (mark.byte !== null && mark.byte !== MARK_ID) return null;
    const { bytes, ok } = this.bytesAt(mark, 6, MOST_ID_CANDIDATES);
    const [byte, c, h, r, n] = bytes;
    return ok && byte === MARK_ID && n! <= MAX_SIZE_CODE ? { c: c!, h: h!, r: r!, n: n! } : null;
  }

  private isData(mark: Mark): boolean {
    if (mark.byte !== null) return isDataMark(mark.byte);
    return isDataMark(bytesOfBits(this.trellis(mark, 1).bits)[0]!);
  }

  private sectorAt(
    mark: Mark,
    data: Mark,
    { c, h, r, n }: { c: number; h: number; r: number; n: number },
  ): FieldRead {
    const size = sectorSize(n);
    const { bytes, ok, wrong } = this.bytesAt(data, size + 2, MOST_CANDIDATES);
    const isMark = isDataMark(bytes[0]!);
    return {
      c,
      h,
      r,
      n,
      idExtra: null,
      size,
      from: mark.from,
      dataFrom: data.start,
      to: data.start + 16 * (size + (data.byte === null ? 3 : 2)),
      mark: bytes[0]!,
      data: bytes.slice(1, 1 + size),
      check: (bytes[1 + size]! << 8) | bytes[2 + size]!,
      belief: ok && isMark ? 'claimed' : 'unsure',
      wrong,
    };
  }
}

const THREE_A1 = [...cellsOf(SYNC_A1, 16), ...cellsOf(SYNC_A1, 16), ...cellsOf(SYNC_A1, 16)];

/** Behind three A1h, the last cell of which has a transition, three cells behind the one before. */
const mfmMark = (from: number): Mark => ({
  from,
  start: from + THREE_A1.length,
  byte: null,
  anchor: from + THREE_A1.length - 1,
  anchorRun: 3,
});

const mfmMarks = (cells: Uint8Array): Mark[] => placesOf(cells, THREE_A1, MFM_WRONG).map(mfmMark);

const fmMarkCells = (byte: number): number[] => cellsOf(fmCells(byte, FM_MARK_CLOCK), 16);

const FM_MARKS = [MARK_ID, 0xfb, 0xf8, 0xf9, 0xfa];
/** Two bytes of zeros stand before a mark, each bit with its clock. */
const FM_SYNC = [...cellsOf(fmCells(0, 0xff), 16), ...cellsOf(fmCells(0, 0xff), 16)];

function fmMark(from: number, byte: number): Mark {
  const cells = fmMarkCells(byte);
  const start = from + FM_SYNC.length + cells.length;
  // The clock behind the mark is there; the run to it from the mark's last transition.
  return { from, start, byte, anchor: start, anchorRun: cells.length - cells.lastIndexOf(1) };
}

function fmMarks(cells: Uint8Array): Mark[] {
  const found = FM_MARKS.flatMap((byte) => {
    const pattern = [...FM_SYNC, ...fmMarkCells(byte)];
    return placesOf(cells, pattern, FM_WRONG).map((from) => ({
      from,
      byte,
      wrong: pattern.filter((cell, i) => cells[from + i] !== cell).length,
    }));
  }).sort((a, b) => a.from - b.from);
  const best = found.filter(({ from, wrong }) =>
    found.every((other) => Math.abs(other.from - from) > 16 || other.wrong >= wrong),
  );
  return best
    .filter(({ from }, i) => i === 0 || from - best[i - 1]!.from > 16)
    .map(({ from, byte }) => fmMark(from, byte));
}
