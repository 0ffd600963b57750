/** MFM behind the common interface (ECMA-78, ECMA-100, ISO 7487, ISO 8378, ISO 8860). */
import { decodeWith } from '../decode-with';
import type { Encoding } from '../encoding';
import { MFM_CODE } from '../id-mark/code';
import { encodeIdMarkTrack } from '../id-mark/encode';
import { FieldReader } from '../id-mark/field-reader';
import { RUNS } from '../recovery/cell-gains';
import { softFieldsOf } from '../id-mark/soft-field';

export function createMfm(): Encoding {
  return {
    id: 'mfm',
    check: 'strong',
    decode: decodeWith(new FieldReader(MFM_CODE), RUNS.mfm),
    encode: encodeIdMarkTrack,
    ...softFieldsOf(MFM_CODE),
  };
}
