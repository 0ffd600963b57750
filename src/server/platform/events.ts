/**
 * What pages are told while it happens: notifications of PostgreSQL, sent in the transaction that
 * makes them true. Small by nature (8,000 bytes at most); a page that missed some asks for the whole state again.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import type { Tally } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import { databaseUrl, type Executor } from './db/database';
import type { DuplicateMatch } from '../states';

const CHANNEL = 'spindle';
/** PostgreSQL takes 8,000 bytes at most. */
const MAX_BYTES = 7_900;

export type SpindleEvent =
  | {
      kind: 'track';
      sittingId: number;
      stationId: number;
      cylinder: number;
      head: number;
      tries: number;
      sectors: SectorMark[];
      now: string;
      layout: string | null;
      secondsLeft: number | null;
      duplicateMatch?: DuplicateMatch | null;
    }
  | {
      kind: 'blocks';
      sittingId: number;
      stationId: number;
      now: string;
      tally: Tally;
      secondsLeft: number | null;
      /** The first block of the last request. */ at: number;
    }
  | { kind: 'uploads' }
  | {
      kind: 'writeback-track';
      writebackId: number;
      cylinder: number;
      head: number;
      proved: boolean;
    }
  | { kind: 'sitting'; sittingId: number; stationId: number; mediumId: number }
  | { kind: 'writeback'; writebackId: number; stationId: number }
  | { kind: 'stations' }
  | { kind: 'media' }
  | { kind: 'layouts' }
  | { kind: 'extracts' }
  | { kind: 'parcels' }
  | { kind: 'assemblies' }
  | { kind: 'transfers' }
  | { kind: 'fixity' }
  | { kind: 'ledger' }
  /** Told by the hub itself. */
  | { kind: 'store-away' };

/** Tells all listeners when the transaction commits. */
export async function announce(tx: Executor, event: SpindleEvent): Promise<void> {
  const payload = JSON.stringify(event);
  // What is too large for a notification makes pages ask for everything instead.
  await tx.execute(
    sql`select pg_notify(${CHANNEL}, ${Buffer.byteLength(payload) < MAX_BYTES ? payload : ''})`,
  );
}

type Listener = (payload: string) => void;

/** What listeners are told while the database is away; that it is back is told with `''`. */
export const STORE_AWAY = JSON.stringify({ kind: 'store-away' });

/** The connection is asked so often whether it lives, and dead where no answer comes in time. */
const ASKED_EVERY_MS = 2000;
const ANSWERS_WITHIN_MS = 2500;
/** Waits between attempts: the first, and the longest. */
const FIRST_WAIT_MS = 250;
const LONGEST_WAIT_MS = 4000;

/** One listening connection a process, shared by all its listeners, made again when it is lost. */
export class EventHub {
  private readonly listeners = new Set<Listener>();
  private client: pg.Client | null = null;
  private connecting: Promise<void> | null = null;

  constructor(private readonly url = databaseUrl) {}

  /**
   * Calls back for every event until the returned function is called. `''` means that some may have
   * been missed, `STORE_AWAY` that none come for now.
   */
  async subscribe(listener: Listener): Promise<() => void> {
    this.listeners.add(listener);
    if (!this.client) {
      await Promise.race([this.connect(), sleep(ANSWERS_WITHIN_MS, undefined, { ref: false })]);
      // The page may have asked before anything was listened to. Where the database is away, it is
      // answered all the same, and told; and told again when it is there.
      if (this.client) listener('');
      else {
        listener(STORE_AWAY);
        void this.connect().then(() => this.client && listener(''));
      }
    }
    return () => this.listeners.delete(listener);
  }

  async close(): Promise<void> {
    this.listeners.clear();
    await this.client?.end();
  }

  /** Ends once there is a connection, or nobody listens any more. */
  private connect(): Promise<void> {
    if (this.client) return Promise.resolve();
    this.connecting ??= this.keepTrying().finally(() => (this.connecting = null));
    return this.connecting;
  }

  private async keepTrying(): Promise<void> {
    for (
      let wait = FIRST_WAIT_MS;
      this.listeners.size > 0;
      wait = Math.min(2 * wait, LONGEST_WAIT_MS)
    ) {
      try {
        return await this.open();
      } catch {
        await sleep(wait, undefined, { ref: false });
      }
    }
  }

  private async open(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.url(),
      connectionTimeoutMillis: ANSWERS_WITHIN_MS,
      query_timeout: ANSWERS_WITHIN_MS,
    });
    const lost = () => {
      clearInterval(asking);
      if (this.client !== client) return;
      this.client = null;
      this.tell(STORE_AWAY);
      void this.connect().then(() => this.client && this.tell(''));
    };
    // A server that hangs closes nothing.
    const asking = setInterval(() => {
      if (this.client === client)
        client.query('select 1').catch(() => {
          lost();
          void client.end().catch(() => undefined);
        });
    }, ASKED_EVERY_MS);
    asking.unref();
    client.on('error', lost);
    client.on('end', lost);
    client.on('notification', ({ payload }) => this.tell(payload ?? ''));
    try {
      await client.connect();
      await client.query(`listen ${CHANNEL}`);
    } catch (error) {
      clearInterval(asking);
      void client.end().catch(() => undefined);
      throw error;
    }
    this.client = client;
  }

  private tell(payload: string): void {
    for (const listener of this.listeners) listener(payload);
  }
}

const shared = globalThis as { spindleHub?: EventHub };

/** The web server's hub. */
export function sharedHub(): EventHub {
  shared.spindleHub ??= new EventHub();
  return shared.spindleHub;
}
