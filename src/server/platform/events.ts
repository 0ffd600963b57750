/**
 * What pages are told while it happens: notifications of PostgreSQL, sent in the transaction that
 * makes them true.
 * Small by nature (8,000 bytes at most); a page that missed some asks for the whole state again.
 */
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
  | { kind: 'assemblies' }
  | { kind: 'transfers' }
  | { kind: 'fixity' }
  | { kind: 'ledger' };

/** Tells all listeners when the transaction commits. */
export async function announce(tx: Executor, event: SpindleEvent): Promise<void> {
  const payload = JSON.stringify(event);
  // What is too large for a notification makes pages ask for everything instead.
  await tx.execute(
    sql`select pg_notify(${CHANNEL}, ${Buffer.byteLength(payload) < MAX_BYTES ? payload : ''})`,
  );
}

type Listener = (payload: string) => void;

/** One listening connection a process, shared by all its listeners, made again when it is lost. */
class EventHub {
  private readonly listeners = new Set<Listener>();
  private client: pg.Client | null = null;
  private connecting: Promise<void> | null = null;

  constructor(private readonly url = databaseUrl) {}

  /**
   * Calls back for every event until the returned function is called. `''` means that some may have
   * been missed.
   */
  async subscribe(listener: Listener): Promise<() => void> {
    this.listeners.add(listener);
    await this.connect();
    return () => this.listeners.delete(listener);
  }

  async close(): Promise<void> {
    this.listeners.clear();
    await this.client?.end();
  }

  private connect(): Promise<void> {
    if (this.client) return Promise.resolve();
    this.connecting ??= this.open().finally(() => (this.connecting = null));
    return this.connecting;
  }

  private async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url() });
    const lost = () => {
      if (this.client !== client) return;
      this.client = null;
      if (this.listeners.size > 0)
        setTimeout(
          () =>
            void this.connect()
              .then(() => this.tell(''))
              .catch(() => undefined),
          1000,
        );
    };
    client.on('error', lost);
    client.on('end', lost);
    client.on('notification', ({ payload }) => this.tell(payload ?? ''));
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
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
