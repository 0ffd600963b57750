/** The page's end of a web worker that does one thing: started when first asked, kept warm. */
import { say } from '@/messages';

type WorkerAnswer<A> = { id: number; answer: A } | { id: number; error: string };

interface Waiting<Q, A> {
  request: Q;
  resolve: (answer: A) => void;
  reject: (error: Error) => void;
}

/** Answers come in order; where it breaks, all that wait are told, and the next asks a new one. */
export class OneWorker<Q, A> {
  private worker: Worker | null = null;
  private nextId = 1;
  private readonly waiting = new Map<number, Waiting<Q, A>>();

  constructor(private readonly start: () => Worker) {}

  /** With a `signal` it may be given up at any moment, and what waits behind it comes sooner. */
  ask(request: Q, signal?: AbortSignal): Promise<A> {
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { request, resolve, reject });
      signal?.addEventListener('abort', () => this.giveUp(id), { once: true });
      this.started().postMessage({ id, request });
    });
  }

  /** No work of a worker can be broken off but with it: what else waits is asked of another. */
  private giveUp(id: number): void {
    const one = this.waiting.get(id);
    if (!one) return;
    this.waiting.delete(id);
    one.reject(new DOMException('given up', 'AbortError'));
    this.worker?.terminate();
    this.worker = null;
    for (const [left, { request }] of this.waiting)
      this.started().postMessage({ id: left, request });
  }

  private started(): Worker {
    if (this.worker) return this.worker;
    const worker = this.start();
    worker.onmessage = ({ data }: MessageEvent<WorkerAnswer<A>>) => {
      const one = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if ('answer' in data) one?.resolve(data.answer);
      else one?.reject(new Error(data.error));
    };
    worker.onerror = ({ message }) => {
      for (const { reject } of this.waiting.values())
        reject(new Error(message || say.parts.thePageCouldNot));
      this.waiting.clear();
      this.worker = null;
    };
    this.worker = worker;
    return worker;
  }
}

/** The worker's own end: `work` gives the answer, and what of it is handed over and not copied. */
export function answerInWorker<Q, A>(work: (request: Q) => [A, Transferable[]]): void {
  const scope = self as unknown as {
    onmessage: ((event: MessageEvent<{ id: number; request: Q }>) => void) | null;
    postMessage(message: WorkerAnswer<A>, transfer: Transferable[]): void;
  };
  scope.onmessage = ({ data: { id, request } }) => {
    try {
      const [answer, transfer] = work(request);
      scope.postMessage({ id, answer }, transfer);
    } catch (error) {
      scope.postMessage({ id, error: (error as Error).message }, []);
    }
  };
}
