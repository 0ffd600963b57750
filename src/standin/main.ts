/** The simulated bench as a process: SPINDLE_SHELF, SPINDLE_BENCH_PORT, SPINDLE_BENCH_SPEED. */
import { Bench } from './server';

const bench = new Bench({
  shelfFolder: process.env.SPINDLE_SHELF ?? 'data/shelf',
  speed: Number(process.env.SPINDLE_BENCH_SPEED ?? 8),
});
const port = await bench.listen(Number(process.env.SPINDLE_BENCH_PORT ?? 0));
console.log(`bench listening on 127.0.0.1:${port}`);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => void bench.close().then(() => process.exit(0)));
