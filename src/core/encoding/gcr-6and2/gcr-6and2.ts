/**
 * The 6-and-2 group code behind the common interface (`docs/formats/layouts.md`, "6-and-2 group
 * code").
 */
import { decodeWith } from '../decode-with';
import type { Encoding, SoftField } from '../encoding';
import { bestGroups } from '../recovery/best-group';
import { RUNS, type CellGains } from '../recovery/cell-gains';
import { DOUBTS_NAMED, leastCertain } from '../recovery/doubts';
import { DATA_BYTES, DISK_BYTES, VALUES, bytesOfValuesInto } from './disk-bytes';
import { encodeTrack } from './encode';
import { FieldReader, PROLOGUE } from './field-reader';

function readField({ cells }: CellGains, _size: number, flips: readonly number[] = []): SoftField {
  const { chosen, margins } = bestGroups(cells, VALUES + 1, DISK_BYTES, 8, flips);
  const values = new Uint8Array(VALUES);
  for (let i = 0, last = 0; i < VALUES; i++) last = values[i] = chosen[i]! ^ last;
  const data = new Uint8Array(DATA_BYTES);
  bytesOfValuesInto(values, data);
  const check = chosen[VALUES]!;
  return {
    mark: PROLOGUE.data,
    data,
    check,
    ok: check === values[VALUES - 1],
    doubts: leastCertain(margins, DOUBTS_NAMED),
  };
}

export function createGcr6and2(): Encoding {
  return {
    id: 'gcr-6and2',
    check: 'weak',
    decode: decodeWith(new FieldReader(), RUNS['gcr-6and2']),
    fieldCells: () => (VALUES + 1) * 8,
    readField,
    readId: () => null,
    encode: encodeTrack,
  };
}
