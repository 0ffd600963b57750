/** The worker's own look through the store, in turn and in its idle time. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Database } from '@/server/platform/db/database';
import { log } from '@/server/platform/log';
import { checkNext } from './fixity';

/** Of the time, what a look through the store may take; it rests for the others. */
const SHARE = 0.2;
/** Where nothing is due. */
const REST_MS = 5_000;
/** Where the database is away. */
const TROUBLE_MS = 30_000;

/** Checks what is due, one blob at a time, until the signal. */
export async function watchFixity(db: Database, signal: AbortSignal): Promise<void> {
  const rest = (ms: number) => sleep(ms, undefined, { signal, ref: false }).catch(() => undefined);
  while (!signal.aborted) {
    const began = performance.now();
    try {
      const isDue = await checkNext(db);
      const took = performance.now() - began;
      await rest(isDue ? took * (1 / SHARE - 1) : REST_MS);
    } catch (error) {
      log().warn({ err: error }, 'checking what is kept');
      await rest(TROUBLE_MS);
    }
  }
}
