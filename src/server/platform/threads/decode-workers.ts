/** The threads on which this process decodes: started when first needed, kept warm. */
import { join } from 'node:path';
import type { TrackWorkers } from '@/core/reading/decode/decode-capture';
import { decodePool } from '@/node/decode-pool';

const shared = globalThis as { spindleWorkers?: TrackWorkers };

/** The built thread lies in `build/` of the folder that all processes are started in. */
export function decodeWorkers(): TrackWorkers {
  shared.spindleWorkers ??= decodePool(join(process.cwd(), 'build', 'decode-thread.js'));
  return shared.spindleWorkers;
}
