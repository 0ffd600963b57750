/**
 * `npm run fuzz`: hurt inputs without end for everything that reads bytes from outside. Nothing may
 * throw but in its own way, go on for a minute, or take more than 300 MB beside what it was
 * given. Every failure is told with its seed, by which it comes again.
 *
 *     npm run fuzz -- --minutes 60                 all parsers in turn
 *     npm run fuzz -- --inputs 1000000             of each parser so many
 *     npm run fuzz -- --parser fat --seed 7/123    one input again
 */
import { cpus } from 'node:os';
import { Worker } from 'node:worker_threads';
import { parseArgs } from 'node:util';
import { fileURLToPath } from 'node:url';
import { PARSERS } from './parsers';
import type { Asked, Told } from './worker';

const { values } = parseArgs({
  options: {
    minutes: { type: 'string' },
    inputs: { type: 'string' },
    parser: { type: 'string' },
    seed: { type: 'string' },
    threads: { type: 'string' },
    run: { type: 'string' },
  },
});

/** An input that takes longer hangs: of a slow machine too. */
const HANG_MS = 60_000;
/** Heap of one thread: 300 MB beside the corpus and the code. */
const HEAP_MB = 400;
const BATCH = 200;

interface Count {
  ran: number;
  failed: number;
  slowest: { seed: string; ms: number };
}

const counts = new Map<string, Count>(
  PARSERS.map(({ name }) => [name, { ran: 0, failed: 0, slowest: { seed: '', ms: 0 } }]),
);

function fail(parser: string, seed: string, message: string): void {
  counts.get(parser)!.failed++;
  process.stdout.write(`\n${parser}, seed ${seed}: ${message}\n`);
}

/** Runs some seeds in a thread of their own; one that hangs or dies is told, and the rest left. */
function runBatch(asked: Asked): Promise<void> {
  return new Promise((resolve) => {
    const worker = new Worker(fileURLToPath(new URL('./fuzz-worker.js', import.meta.url)), {
      workerData: asked,
      resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
    });
    let seed = '';
    let isDone = false;
    const hangs = () => {
      fail(asked.parser, seed, `goes on for more than ${HANG_MS / 1000} s`);
      isDone = true;
      void worker.terminate();
    };
    let timer = setTimeout(hangs, HANG_MS);
    worker.on('message', (told: Told) => {
      const count = counts.get(asked.parser)!;
      if (told.kind === 'begins') {
        seed = told.seed;
        clearTimeout(timer);
        timer = setTimeout(hangs, HANG_MS);
      } else if (told.kind === 'failed') fail(asked.parser, told.seed, told.message);
      else {
        isDone = true;
        count.ran += told.ran;
        if (told.slowest.ms > count.slowest.ms) count.slowest = told.slowest;
      }
    });
    worker.on('error', (error) => {
      if (!isDone) fail(asked.parser, seed, error.message);
      isDone = true;
    });
    worker.on('exit', () => {
      clearTimeout(timer);
      if (!isDone) fail(asked.parser, seed, 'the thread ended');
      resolve();
    });
  });
}

/** What is to be run, a batch of every parser in turn. */
function* batches(run: string, ends: number): Generator<Asked> {
  const most = values.inputs ? Number(values.inputs) : Infinity;
  const chosen = PARSERS.filter(({ name }) => !values.parser || name === values.parser);
  if (chosen.length === 0) throw new Error(`There is no parser ${values.parser}.`);
  for (let first = 0; first < most; first += BATCH)
    for (const { name } of chosen) {
      const length = Math.min(BATCH, most - first);
      const seeds = Array.from({ length }, (_, i) => `${run}/${first + i}`);
      yield { parser: name, seeds, ends };
    }
}

async function main(): Promise<void> {
  if (values.seed) {
    const parser = values.parser ?? PARSERS[0]!.name;
    await runBatch({ parser, seeds: [values.seed], ends: Infinity });
  } else {
    const run = values.run ?? String(Math.floor(Math.random() * 1e9));
    const ends = Date.now() + Number(values.minutes ?? (values.inputs ? 1e6 : 10)) * 60_000;
    process.stdout.write(`run ${run}\n`);
    const queue = batches(run, ends);
    const thread = async () => {
      for (const asked of queue) {
        await runBatch(asked);
        if (Date.now() > ends) return;
      }
    };
    await Promise.all(Array.from({ length: Number(values.threads ?? cpus().length) }, thread));
  }
  console.table(
    [...counts]
      .filter(([, { ran, failed }]) => ran + failed > 0)
      .map(([parser, { ran, failed, slowest }]) => ({
        parser,
        inputs: ran,
        failed,
        'slowest (ms)': Math.round(slowest.ms),
        seed: slowest.seed,
      })),
  );
  process.exitCode = [...counts.values()].some(({ failed }) => failed > 0) ? 1 : 0;
}

await main();
