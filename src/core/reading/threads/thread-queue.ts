/**
 * Shares jobs out among threads that are kept warm: one job a thread at a time, the rest wait.
 * Knows no kind of thread.
 */
import type { DecodeJob, TrackWorkers } from '../decode/decode-capture';
import { packJob, type PackedJob } from './packed-job';
import { unpackTracks } from './packed-tracks';
import type { ThreadMessage } from './thread-answer';
import type { TrackDecode } from '../decode/track-decoder';

/** What the queue needs of a thread, of Node or of a browser. */
export interface DecodeThread {
  /** Hands the job over, its buffer with it. */
  send(message: { id: number; job: PackedJob }): void;
  /** Told once: of every answer, and of the thread's end by itself. */
  listen(answer: (message: ThreadMessage) => void, died: (reason: Error) => void): void;
  end(): void;
}

interface Task {
  id: number;
  job: DecodeJob;
  resolve: (tracks: TrackDecode[]) => void;
  reject: (error: Error) => void;
}

export class ThreadQueue implements TrackWorkers {
  private readonly idle: DecodeThread[] = [];
  private readonly running = new Map<DecodeThread, Task>();
  private readonly waiting: Task[] = [];
  /** A thread's buffer, which comes back with its answer. */
  private readonly buffers = new Map<DecodeThread, ArrayBuffer>();
  private made = 0;
  private nextId = 1;

  constructor(
    readonly threads: number,
    private readonly start: () => DecodeThread,
  ) {}

  decode(job: DecodeJob): Promise<TrackDecode[]> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ id: this.nextId++, job, resolve, reject });
      this.work();
    });
  }

  /** Ends all threads; jobs under way fail. */
  close(): void {
    for (const [thread, task] of this.running) {
      thread.end();
      task.reject(new Error('the threads were ended'));
    }
    for (const thread of this.idle) thread.end();
    this.running.clear();
    this.idle.length = 0;
    this.buffers.clear();
    this.made = 0;
  }

  private work(): void {
    while (this.waiting.length > 0) {
      const thread = this.idle.pop() ?? (this.made < this.threads ? this.make() : null);
      if (!thread) return;
      const task = this.waiting.shift()!;
      this.running.set(thread, task);
      thread.send({ id: task.id, job: packJob(task.job, this.buffers.get(thread) ?? null) });
    }
  }

  private make(): DecodeThread {
    const thread = this.start();
    this.made++;
    const finish = (outcome: (task: Task) => void, reuse: boolean) => {
      const task = this.running.get(thread);
      this.running.delete(thread);
      if (reuse) this.idle.push(thread);
      else {
        this.made--;
        this.buffers.delete(thread);
      }
      if (task) outcome(task);
      this.work();
    };
    thread.listen(
      ({ tracks, error, flux }) => {
        this.buffers.set(thread, flux);
        finish(
          (task) =>
            tracks
              ? task.resolve(unpackTracks(tracks))
              : task.reject(new Error(error ?? 'a thread gave no answer')),
          true,
        );
      },
      (reason) => finish((task) => task.reject(reason), false),
    );
    return thread;
  }
}
