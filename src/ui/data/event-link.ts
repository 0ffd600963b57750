/**
 * The page's one stream of events, and whether anything comes by it: the server sends a beat every
 * two seconds, so that silence is an outage, of whatever kind. It is made again until it is back.
 */
import type { SpindleEvent } from '@/server/platform/events';

/** What does not answer: all of it, or only the database behind it. */
export type Outage = 'application' | 'store';

type Told = Exclude<SpindleEvent, { kind: 'store-away' }>;

interface EventLinkHandlers {
  onEvent(event: Told): void;
  /** What happened before may have been missed; `isFirst` where the page was made just now. */
  onFresh(isFirst: boolean): void;
  onOutage(outage: Outage | null): void;
}

/** Two beats and a half. */
const QUIET_MS = 4500;
const LOOKED_EVERY_MS = 500;
const LONGEST_WAIT_MS = 4000;

export class EventLink {
  private source: EventSource | null = null;
  private heardAt = Date.now();
  private openedAt = 0;
  private wait = LOOKED_EVERY_MS;
  private hasOpened = false;
  private outage: Outage | null = null;
  private readonly looking: ReturnType<typeof setInterval>;

  constructor(private readonly handlers: EventLinkHandlers) {
    this.open();
    this.looking = setInterval(() => this.look(), LOOKED_EVERY_MS);
  }

  close(): void {
    clearInterval(this.looking);
    this.source?.close();
  }

  private open(): void {
    this.source?.close();
    this.openedAt = Date.now();
    const source = new EventSource('/api/events');
    this.source = source;
    source.onopen = () => {
      this.heardAt = Date.now();
      // Where the database is away, the stream says so at once.
      this.tell(null);
      this.wait = LOOKED_EVERY_MS;
      this.handlers.onFresh(!this.hasOpened);
      this.hasOpened = true;
    };
    source.addEventListener('beat', () => this.heard());
    source.onmessage = ({ data }: MessageEvent<string>) => {
      this.heard();
      this.take(data);
    };
  }

  private take(data: string): void {
    const event = data === '' ? null : (JSON.parse(data) as SpindleEvent);
    if (event?.kind === 'store-away') return this.tell('store');
    if (this.outage === 'store') this.tell(null);
    if (event) this.handlers.onEvent(event);
    else this.handlers.onFresh(false);
  }

  private heard(): void {
    this.heardAt = Date.now();
    if (this.outage === 'application') this.tell(null);
  }

  private tell(outage: Outage | null): void {
    if (outage === this.outage) return;
    this.outage = outage;
    this.handlers.onOutage(outage);
  }

  /** A stream that is closed for good, or hangs, is made again, at growing intervals. */
  private look(): void {
    const now = Date.now();
    if (now - this.heardAt < QUIET_MS) return;
    this.tell('application');
    if (now - this.openedAt < this.wait) return;
    this.wait = Math.min(2 * this.wait, LONGEST_WAIT_MS);
    this.open();
  }
}
