/** SHA-256 by Node's own crypto. */
import { createHash } from 'node:crypto';
import type { Digester } from '@/core/digester';

export const nodeDigester: Digester = {
  sha256: (bytes) => new Uint8Array(createHash('sha256').update(bytes).digest()),
  sha256Stream() {
    const hash = createHash('sha256');
    return {
      update: (bytes) => void hash.update(bytes),
      digest: () => new Uint8Array(hash.digest()),
    };
  },
};
