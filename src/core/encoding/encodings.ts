/** Every encoding by its id. */
import type { EncodingId } from '../layout/layout';
import type { Encoding } from './encoding';
import { createFm } from './fm/fm';
import { createGcr4to5 } from './gcr-4to5/gcr-4to5';
import { createGcr6and2 } from './gcr-6and2/gcr-6and2';
import { createMfm } from './mfm/mfm';

const CREATE: Record<EncodingId, () => Encoding> = {
  fm: createFm,
  mfm: createMfm,
  'gcr-4to5': createGcr4to5,
  'gcr-6and2': createGcr6and2,
};

/** An encoding with scratch of its own. */
export function encodingOf(id: EncodingId): Encoding {
  return CREATE[id]();
}

/** All of them; made when first asked for, one set a thread. */
export function createEncodings(): (id: EncodingId) => Encoding {
  const made = new Map<EncodingId, Encoding>();
  return (id) => {
    let encoding = made.get(id);
    if (!encoding) made.set(id, (encoding = encodingOf(id)));
    return encoding;
  };
}
