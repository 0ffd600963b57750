/**
 * Fields of FM and MFM read by maximum likelihood: the bits whose cells, by the code's own rule,
 * fit the gains best.
 * FM bits do not depend on each other; for MFM the best sequence is found over two states, the
 * bit before (Viterbi).
 */
import { bytesOfBits } from '../../bits/bytes-of-bits';
import { crc16 } from '../../bits/crc16';
import type { Encoding, SectorSighting, SoftField } from '../encoding';
import type { CellGains } from '../recovery/cell-gains';
import { DOUBTS_NAMED, leastCertain } from '../recovery/doubts';
import type { IdMarkCode } from './code';
import { MARK_ID, MAX_SIZE_CODE, sectorSize } from './marks';

const CHECK_BYTES = 2;

interface SoftBits {
  bits: Uint8Array;
  margins: Float32Array;
}

/** `forced[i]` is 0 or 1 where bit i is given, else 2. */
function softFm(cells: Float32Array, count: number, forced: Uint8Array): SoftBits {
  const bits = new Uint8Array(count);
  const margins = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const gain = cells[2 * i + 1]!;
    bits[i] = forced[i]! < 2 ? forced[i]! : gain > 0 ? 1 : 0;
    margins[i] = Math.abs(gain);
  }
  return { bits, margins };
}

const IMPOSSIBLE = -1e9;

function softMfm(cells: Float32Array, count: number, forced: Uint8Array): SoftBits {
  // best[2i + b]: of all sequences up to bit i that end in b; rest[2i + b]: of all that go on from
  // bit i being b.
  const best = new Float64Array(2 * count);
  const rest = new Float64Array(2 * count);
  const from = new Uint8Array(2 * count);
  for (let i = 0; i < count; i++) {
    // The bit before the field is the last of a sync, a 1.
    const before0 = i === 0 ? IMPOSSIBLE : best[2 * i - 2]!;
    const before1 = i === 0 ? 0 : best[2 * i - 1]!;
    const zeroAfter0 = before0 + cells[2 * i]!;
    from[2 * i] = zeroAfter0 > before1 ? 0 : 1;
    best[2 * i] = forced[i] === 1 ? IMPOSSIBLE : Math.max(zeroAfter0, before1);
    from[2 * i + 1] = before0 > before1 ? 0 : 1;
    best[2 * i + 1] = forced[i] === 0 ? IMPOSSIBLE : Math.max(before0, before1) + cells[2 * i + 1]!;
  }
  for (let i = count - 2; i >= 0; i--) {
    const next1 = (forced[i + 1] === 0 ? IMPOSSIBLE : cells[2 * i + 3]!) + rest[2 * i + 3]!;
    const next0 = (forced[i + 1] === 1 ? IMPOSSIBLE : 0) + rest[2 * i + 2]!;
    rest[2 * i] = Math.max(next1, next0 + cells[2 * i + 2]!);
    rest[2 * i + 1] = Math.max(next1, next0);
  }
  const bits = new Uint8Array(count);
  const margins = new Float32Array(count);
  let bit = best[2 * count - 1]! > best[2 * count - 2]! ? 1 : 0;
  for (let i = count - 1; i >= 0; i--) {
    bits[i] = bit;
    margins[i] = Math.abs(best[2 * i + 1]! + rest[2 * i + 1]! - best[2 * i]! - rest[2 * i]!);
    bit = from[2 * i + bit]!;
  }
  return { bits, margins };
}

/** The soft half of an `Encoding` with ID marks. */
export function softFieldsOf({
  id,
  crcInitial,
}: IdMarkCode): Pick<Encoding, 'fieldCells' | 'readField' | 'readId'> {
  const read = id === 'fm' ? softFm : softMfm;
  return {
    fieldCells: (size) => 16 * (1 + size + CHECK_BYTES),
    readField({ cells }: CellGains, size: number, flips: readonly number[] = []): SoftField {
      const count = 8 * (1 + size + CHECK_BYTES);
      const forced = new Uint8Array(count).fill(2);
      let { bits, margins } = read(cells, count, forced);
      if (flips.length > 0) {
        for (const place of flips) forced[place] = 1 - bits[place]!;
        ({ bits, margins } = read(cells, count, forced));
      }
      const bytes = bytesOfBits(bits);
      return {
        mark: bytes[0]!,
        data: bytes.slice(1, 1 + size),
        check: (bytes[1 + size]! << 8) | bytes[2 + size]!,
        ok: crc16(bytes, 0, bytes.length, crcInitial) === 0,
        doubts: leastCertain(margins, DOUBTS_NAMED),
      };
    },
    readId({ cells }: CellGains): Pick<SectorSighting, 'c' | 'h' | 'r' | 'n' | 'size'> | null {
      const count = 8 * 7;
      const [mark, c, h, r, n, ...check] = bytesOfBits(
        read(cells, count, new Uint8Array(count).fill(2)).bits,
      );
      if (
        mark !== MARK_ID ||
        n! > MAX_SIZE_CODE ||
        crc16(Uint8Array.from([mark, c!, h!, r!, n!, ...check]), 0, 7, crcInitial) !== 0
      )
        return null;
      return { c: c!, h: h!, r: r!, n: n!, size: sectorSize(n!) };
    },
  };
}
