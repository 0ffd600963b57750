/** One thread of the fuzz: parses the input of one seed after another, and tells before each. */
import { parentPort, workerData } from 'node:worker_threads';
import { inputOf } from './mutate';
import { PARSERS } from './parsers';

export interface Asked {
  parser: string;
  seeds: readonly string[];
  /** Moment after which no further one is begun. */
  ends: number;
}

export type Told =
  | { kind: 'begins'; seed: string }
  | { kind: 'failed'; seed: string; message: string }
  | { kind: 'done'; ran: number; slowest: { seed: string; ms: number } };

async function run(
  { parser: name, seeds, ends }: Asked,
  tell: (told: Told) => void,
): Promise<void> {
  const parser = PARSERS.find((each) => each.name === name)!;
  const corpus = await parser.corpus();
  let slowest = { seed: '', ms: 0 };
  let ran = 0;
  for (const seed of seeds) {
    if (Date.now() > ends) break;
    ran++;
    tell({ kind: 'begins', seed });
    const bytes = inputOf(corpus, seed);
    const began = performance.now();
    try {
      await parser.parse(bytes);
    } catch (error) {
      const isRefusal = parser.refusals?.some((kind) => error instanceof kind);
      const message = error instanceof Error ? (error.stack ?? error.message) : String(error);
      if (!isRefusal) tell({ kind: 'failed', seed, message });
    }
    const ms = performance.now() - began;
    if (ms > slowest.ms) slowest = { seed, ms };
  }
  tell({ kind: 'done', ran, slowest });
}

if (parentPort) {
  const port = parentPort;
  void run(workerData as Asked, (told) => port.postMessage(told));
}
