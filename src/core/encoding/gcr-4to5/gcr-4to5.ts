/**
 * The zoned 4-to-5 group code behind the common interface (`docs/formats/layouts.md`, "zoned group
 * code").
 */
import { decodeWith } from '../decode-with';
import type { Encoding, SoftField } from '../encoding';
import { bestGroups } from '../recovery/best-group';
import { RUNS, type CellGains } from '../recovery/cell-gains';
import { DOUBTS_NAMED, leastCertain } from '../recovery/doubts';
import { encodeTrack } from './encode';
import { BLOCK_BYTES, DATA_BLOCK, DATA_BYTES, FieldReader, checkOf } from './field-reader';
import { CELLS_OF_BYTE, GROUP_OF_NIBBLE } from './groups';

function readField({ cells }: CellGains, _size: number, flips: readonly number[] = []): SoftField {
  const { chosen, margins } = bestGroups(cells, 2 * BLOCK_BYTES, GROUP_OF_NIBBLE, 5, flips);
  const bytes = Uint8Array.from(
    { length: BLOCK_BYTES },
    (_, i) => (chosen[2 * i]! << 4) | chosen[2 * i + 1]!,
  );
  const check = bytes[1 + DATA_BYTES]!;
  return {
    mark: bytes[0]!,
    data: bytes.slice(1, 1 + DATA_BYTES),
    check,
    ok: bytes[0] === DATA_BLOCK && check === checkOf(bytes, 1),
    doubts: leastCertain(margins, DOUBTS_NAMED),
  };
}

export function createGcr4to5(): Encoding {
  return {
    id: 'gcr-4to5',
    check: 'weak',
    decode: decodeWith(new FieldReader(), RUNS['gcr-4to5']),
    fieldCells: () => BLOCK_BYTES * CELLS_OF_BYTE,
    readField,
    readId: () => null,
    encode: encodeTrack,
  };
}
