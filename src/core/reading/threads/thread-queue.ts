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
  /** Called once. What a thread sent before it was ended here may be told after. */
  listen(answer: (message: ThreadMessage) => void, died: (reason: Error) => void): void;
  end(): void;
}

interface Task {
  id: number;
  job: DecodeJob;
  resolve: (tracks: TrackDecode[]) => void;
  reject: (error: Error) => void;
  signal: AbortSignal | undefined;
}

export class ThreadQueue implements TrackWorkers {
  private readonly idle: DecodeThread[] = [];
  private readonly running = new Map<DecodeThread, Task>();
  private readonly waiting: Task[] = [];
  /** A thread's buffer, which comes back with its answer. */
  private readonly buffers = new Map<DecodeThread, ArrayBuffer>();
  /** Signals of jobs, each listened to once. */
  private readonly heard = new WeakSet<AbortSignal>();
  private made = 0;
  private nextId = 1;

  constructor(
    readonly threads: number,
    private readonly start: () => DecodeThread,
  ) {}

  decode(job: DecodeJob, signal?: AbortSignal): Promise<TrackDecode[]> {
    return new Promise((resolve, reject) => {
      signal?.throwIfAborted();
      if (signal) this.listenTo(signal);
      this.waiting.push({ id: this.nextId++, job, resolve, reject, signal });
      this.work();
    });
  }

  private listenTo(signal: AbortSignal): void {
    if (this.heard.has(signal)) return;
    this.heard.add(signal);
    signal.addEventListener('abort', () => this.drop(signal), { once: true });
  }

  /** What waits is taken out; threads that are at it are ended, and the next jobs get new ones. */
  private drop(signal: AbortSignal): void {
    const isOver = (task: Task) => task.signal === signal;
    const over = this.waiting.filter(isOver);
    this.waiting.splice(0, Infinity, ...this.waiting.filter((task) => !isOver(task)));
    for (const [thread, task] of this.running) {
      if (!isOver(task)) continue;
      thread.end();
      this.running.delete(thread);
      this.buffers.delete(thread);
      this.made--;
      over.push(task);
    }
    for (const { reject } of over) reject(signal.reason as Error);
    this.work();
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
    thread.listen(
      (message) => this.takeAnswer(thread, message),
      (reason) => this.bury(thread, reason),
    );
    return thread;
  }

  private takeAnswer(thread: DecodeThread, { tracks, error, flux }: ThreadMessage): void {
    const task = this.running.get(thread);
    // An answer may be under way when its thread is ended.
    if (!task) return;
    this.running.delete(thread);
    this.buffers.set(thread, flux);
    this.idle.push(thread);
    if (tracks) task.resolve(unpackTracks(tracks));
    else task.reject(new Error(error ?? 'a thread gave no answer'));
    this.work();
  }

  private bury(thread: DecodeThread, reason: Error): void {
    const task = this.running.get(thread);
    const at = this.idle.indexOf(thread);
    if (!task && at < 0) return;
    this.running.delete(thread);
    if (at >= 0) this.idle.splice(at, 1);
    this.buffers.delete(thread);
    this.made--;
    task?.reject(reason);
    this.work();
  }
}
