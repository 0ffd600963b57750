/** The worker's own look through the store, in turn and in its idle time. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Database } from '@/server/platform/db/database';
import { log } from '@/server/platform/log';
import { checkLedger, isLedgerDue, sealLedger } from '../ledger/seals';
import { checkNext } from './fixity';

/** Of the time, what a look through the store may take, and one that somebody waits for. */
const SHARE = 0.2;
const SHARE_ASKED = 0.7;
/** Seals of the ledger are that far apart: each is looked at again and again. */
const SEALED_EVERY_MS = 60_000;
/** Where nothing is due. */
const REST_MS = 5_000;
/** Where the database is away. */
const TROUBLE_MS = 30_000;

/** Checks what is due, one blob at a time, and the ledger between them, until the signal. */
export async function watchFixity(db: Database, signal: AbortSignal): Promise<void> {
  const rest = (ms: number) => sleep(ms, undefined, { signal, ref: false }).catch(() => undefined);
  let began = 0;
  let sealedAt = -Infinity;
  // Also within a blob, which may be a disc of many gigabytes.
  const between = async (isAsked: boolean) => {
    await rest((performance.now() - began) * (1 / (isAsked ? SHARE_ASKED : SHARE) - 1));
    signal.throwIfAborted();
    began = performance.now();
  };
  while (!signal.aborted) {
    began = performance.now();
    try {
      if (began - sealedAt > SEALED_EVERY_MS) {
        await sealLedger(db);
        sealedAt = began;
      }
      if (await checkNext(db, between)) continue;
      if (await isLedgerDue(db)) await checkLedger(db, () => between(false));
      await rest(REST_MS);
    } catch (error) {
      if (signal.aborted) return;
      log().warn({ err: error }, 'checking what is kept');
      await rest(TROUBLE_MS);
    }
  }
}
