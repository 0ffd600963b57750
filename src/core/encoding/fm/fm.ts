/** FM behind the common interface (ECMA-54, ECMA-66, ISO 5654). */
import { decodeWith } from '../decode-with';
import type { Encoding } from '../encoding';
import { FM_CODE } from '../id-mark/code';
import { encodeIdMarkTrack } from '../id-mark/encode';
import { FieldReader } from '../id-mark/field-reader';
import { RUNS } from '../recovery/cell-gains';
import { softFieldsOf } from '../id-mark/soft-field';

export function createFm(): Encoding {
  return {
    id: 'fm',
    check: 'strong',
    decode: decodeWith(new FieldReader(FM_CODE), RUNS.fm),
    encode: encodeIdMarkTrack,
    ...softFieldsOf(FM_CODE),
  };
}
