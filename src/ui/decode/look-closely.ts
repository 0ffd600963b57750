/** The page's end of the loupe's worker: one, kept warm, answers in order. */
import type { LoupeRequest, LoupeTurn } from '@/core/reading/analysis/loupe';
import type { LoupeAnswer } from './loupe-worker';
import { say } from '@/messages';

let worker: Worker | null = null;
let nextId = 1;
const waiting = new Map<
  number,
  { resolve: (turns: LoupeTurn[]) => void; reject: (error: Error) => void }
>();

function started(): Worker {
  if (worker) return worker;
  worker = new Worker(new URL('./loupe-worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<LoupeAnswer>) => {
    const one = waiting.get(data.id);
    waiting.delete(data.id);
    if ('turns' in data) one?.resolve(data.turns);
    else one?.reject(new Error(data.error));
  };
  worker.onerror = ({ message }) => {
    for (const { reject } of waiting.values())
      reject(new Error(message || say.parts.thePageCouldNot));
    waiting.clear();
    worker = null;
  };
  return worker;
}

export function lookCloselyInWorker(request: LoupeRequest): Promise<LoupeTurn[]> {
  const id = nextId++;
  return new Promise((resolve, reject) => {
    waiting.set(id, { resolve, reject });
    started().postMessage({ id, request });
  });
}
