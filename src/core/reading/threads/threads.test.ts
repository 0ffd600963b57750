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
  private answer: (message: ThreadMessage) => void = () => undefined;
  died: (reason: Error) => void = () => undefined;

  constructor(private readonly spoil: boolean) {
    FakeThread.all.push(this);
  }

  send(message: { id: number; job: ReturnType<typeof packJob> }): void {
    expect(this.busy).toBe(false);
    this.busy = true;
    setTimeout(() => {
      if (this.ended) return;
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

test('ending the threads fails what is under way', async () => {
  const queue = new ThreadQueue(1, () => new FakeThread(false));
  const under = queue.decode(job);
  queue.close();
  await expect(under).rejects.toThrow('the threads were ended');
});
