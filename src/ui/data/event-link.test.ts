/** @jest-environment jsdom */
/** A page says within five seconds that nothing comes any more, and is back by itself. */
import { EventLink, type Outage } from './event-link';

class FakeStream {
  static made: FakeStream[] = [];
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  isClosed = false;
  private beat = () => undefined as void;

  constructor() {
    FakeStream.made.push(this);
  }

  addEventListener(_: string, listener: () => void): void {
    this.beat = listener;
  }

  sendBeat(): void {
    this.beat();
  }

  close(): void {
    this.isClosed = true;
  }
}

const latest = () => FakeStream.made.at(-1)!;
const send = (message: object | null) =>
  latest().onmessage!({ data: message === null ? '' : JSON.stringify(message) });

let outages: (Outage | null)[];
let fresh: boolean[];
let events: string[];
let link: EventLink;

beforeEach(() => {
  jest.useFakeTimers();
  globalThis.EventSource = FakeStream as never;
  FakeStream.made = [];
  [outages, fresh, events] = [[], [], []];
  link = new EventLink({
    onEvent: ({ kind }) => events.push(kind),
    onFresh: (isFirst) => fresh.push(isFirst),
    onOutage: (outage) => outages.push(outage),
  });
  latest().onopen!();
});

afterEach(() => {
  link.close();
  jest.useRealTimers();
});

/** Seconds in which only beats come. */
function beats(seconds: number): void {
  for (let i = 0; i < seconds / 2; i++) {
    jest.advanceTimersByTime(2000);
    latest().sendBeat();
  }
}

test('as long as it beats nothing is said, and nothing is asked for again', () => {
  beats(60);
  send({ kind: 'media' });
  expect([outages, fresh, events, FakeStream.made.length]).toEqual([[], [true], ['media'], 1]);
});

test('silence is told within five seconds, and the stream made again until it is back', () => {
  beats(10);
  jest.advanceTimersByTime(5000);
  expect(outages).toEqual(['application']);
  jest.advanceTimersByTime(55_000);
  expect(outages).toEqual(['application']);
  // At growing intervals, of four seconds at the most, one at a time.
  expect(FakeStream.made.length).toBeGreaterThan(10);
  expect(FakeStream.made.length).toBeLessThan(20);
  expect(FakeStream.made.filter(({ isClosed }) => !isClosed)).toHaveLength(1);
  latest().onopen!();
  expect([outages, fresh]).toEqual([
    ['application', null],
    [true, false],
  ]);
  beats(20);
  expect(outages).toEqual(['application', null]);
});

test('a database that is away is told, although the stream beats, until it is back', () => {
  send({ kind: 'store-away' });
  beats(20);
  expect([outages, events]).toEqual([['store'], []]);
  send(null);
  expect([outages, fresh]).toEqual([
    ['store', null],
    [true, false],
  ]);
});

test('a stream that is made again by the browser takes back what the one before said', () => {
  send({ kind: 'store-away' });
  latest().onopen!();
  expect(outages).toEqual(['store', null]);
  send({ kind: 'store-away' });
  expect(outages).toEqual(['store', null, 'store']);
});

test('what is closed says nothing more', () => {
  link.close();
  jest.advanceTimersByTime(60_000);
  expect([outages, FakeStream.made.length]).toEqual([[], 1]);
});
