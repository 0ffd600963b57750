/**
 * Work shared out among threads: what goes over and comes back is what it was; a thread that dies
 * or fails takes one job with it.
 */
import { loadVector } from '../../../../tests/support/vectors';
import { readContainer } from '@/core/flux/container-reader';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import {
  allSectors,
  decodeCapture,
  decodeJob,
  groupByTrack,
  type DecodeJob,
} from '../decode/decode-capture';
import { packJob, unpackJob } from './packed-job';
import { packTracks, unpackTracks } from './packed-tracks';
import { answerJob, type ThreadMessage } from './thread-answer';
import { ThreadQueue, type DecodeThread } from './thread-queue';

const container = readContainer(loadVector('flux/light-gcr62-525-16x256.fsflux'), null);
const job: DecodeJob = {
  groups: groupByTrack(container.tracks),
  drive: { tickHz: 24_000_000, rpm: 300 },
  turns: 'all',
  layout: SHIPPED_LAYOUTS[11]!,
  stepping: 1,
  effort: 'by-turns',
};
const plain = (value: unknown) =>
  JSON.parse(
    JSON.stringify(value, (_, each) =>
      each instanceof Uint8Array ? Buffer.from(each).toString('hex') : each,
    ),
  );

test('a job and its tracks come through packing as they were', () => {
  const back = unpackJob(packJob(job, null));
  expect(plain(back)).toEqual(plain(job));
  const decoded = decodeJob(job);
  expect(plain(unpackTracks(packTracks(decoded)))).toEqual(plain(decoded));
});

/** A thread on this one: it answers when told to. */
class FakeThread implements DecodeThread {
  static all: FakeThread[] = [];
  ended = false;
  busy = false;
  jobs = 0;
  private answer: (message: ThreadMessage) => void = () => undefined;
  died: (reason: Error) => void = () => undefined;

  /** As of Node: what a thread has answered when it is ended comes all the same. */
  constructor(
    private readonly spoil: boolean,
    private readonly isLate = false,
  ) {
    FakeThread.all.push(this);
  }

  send(message: { id: number; job: ReturnType<typeof packJob> }): void {
    expect(this.busy).toBe(false);
    this.busy = true;
    this.jobs++;
    setTimeout(() => {
      if (this.ended && !this.isLate) return;
      this.busy = false;
      if (this.spoil) this.died(new Error('out of memory'));
      else this.answer(structuredClone(answerJob(message).answer));
    }, 1);
  }

  listen(answer: (message: ThreadMessage) => void, died: (reason: Error) => void): void {
    this.answer = answer;
    this.died = died;
  }

  end(): void {
    this.ended = true;
  }
}

test('many jobs on two threads give what one gives', async () => {
  FakeThread.all = [];
  const options = { layouts: SHIPPED_LAYOUTS, effort: 'by-turns' } as const;
  const queue = new ThreadQueue(2, () => new FakeThread(false));
  const shared = await decodeCapture(container.header, container.tracks, {
    ...options,
    workers: queue,
  });
  const alone = await decodeCapture(container.header, container.tracks, options);
  expect(plain(allSectors(shared))).toEqual(plain(allSectors(alone)));
  expect(FakeThread.all).toHaveLength(2);
  queue.close();
  expect(FakeThread.all.every(({ ended }) => ended)).toBe(true);
});

test('a thread that dies fails its job, and the next job gets a new one', async () => {
  FakeThread.all = [];
  let first = true;
  const queue = new ThreadQueue(1, () => {
    const thread = new FakeThread(first);
    first = false;
    return thread;
  });
  await expect(queue.decode(job)).rejects.toThrow('out of memory');
  await expect(queue.decode(job)).resolves.toHaveLength(3);
  expect(FakeThread.all).toHaveLength(2);
});

test('a signal drops what waits and ends the thread that is at it; the rest goes on', async () => {
  FakeThread.all = [];
  const queue = new ThreadQueue(1, () => new FakeThread(false));
  const enough = new AbortController();
  const under = queue.decode(job, enough.signal);
  const waiting = queue.decode(job, enough.signal);
  const other = queue.decode(job);
  enough.abort(new Error('it takes too long'));
  await expect(under).rejects.toThrow('it takes too long');
  await expect(waiting).rejects.toThrow('it takes too long');
  await expect(queue.decode(job, enough.signal)).rejects.toThrow('it takes too long');
  await expect(other).resolves.toHaveLength(3);
  expect(FakeThread.all.map(({ ended }) => ended)).toEqual([true, false]);
  queue.close();
});

test('one that answers when it was ended already gets no further job', async () => {
  FakeThread.all = [];
  const queue = new ThreadQueue(1, () => new FakeThread(false, true));
  const enough = new AbortController();
  const under = queue.decode(job, enough.signal);
  enough.abort(new Error('enough'));
  await expect(under).rejects.toThrow('enough');
  await new Promise((resolve) => setTimeout(resolve, 50));
  await expect(queue.decode(job)).resolves.toHaveLength(3);
  expect(FakeThread.all.map(({ jobs }) => jobs)).toEqual([1, 1]);
  queue.close();
});

test('a thread that dies while it has nothing to do gets no further job', async () => {
  FakeThread.all = [];
  const queue = new ThreadQueue(1, () => new FakeThread(false));
  await queue.decode(job);
  FakeThread.all[0]!.died(new Error('out of memory'));
  await expect(queue.decode(job)).resolves.toHaveLength(3);
  expect(FakeThread.all.map(({ jobs }) => jobs)).toEqual([1, 1]);
  queue.close();
});

test('how far the hurt tracks have come is told, and a decode is broken off', async () => {
  const queue = new ThreadQueue(2, () => new FakeThread(false));
  const options = { layouts: [], effort: 'by-turns', workers: queue } as const;
  const told: [number, number][] = [];
  const { signal } = new AbortController();
  // No layout fits where there is none: every track is looked at again.
  await decodeCapture(container.header, container.tracks, {
    ...options,
    watch: { signal, told: (done, of) => told.push([done, of]) },
  });
  expect(told).toEqual([
    [1, 3],
    [2, 3],
    [3, 3],
  ]);
  const broken = new AbortController();
  const watch = { signal: broken.signal, told: () => broken.abort(new Error('enough')) };
  await expect(
    decodeCapture(container.header, container.tracks, { ...options, watch }),
  ).rejects.toThrow('enough');
  queue.close();
});

test('ending the threads fails what is under way', async () => {
  const queue = new ThreadQueue(1, () => new FakeThread(false));
  const under = queue.decode(job);
  queue.close();
  await expect(under).rejects.toThrow('the threads were ended');
});
