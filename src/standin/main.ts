/**
 * The simulated bench as a process: `--shelf FOLDER --speed N [--port N]`, and its token in
 * `SPINDLE_BENCH_TOKEN`, where no list of processes shows it.
 */
import { parseArgs } from 'node:util';
import { Bench } from './server';

const { values } = parseArgs({
  options: {
    shelf: { type: 'string' },
    /** How many times faster than life; 0 takes no time. */
    speed: { type: 'string' },
    port: { type: 'string', default: '0' },
  },
});
if (!values.shelf || !values.speed) throw new Error('the bench wants --shelf and --speed');
const bench = new Bench({
  shelfFolder: values.shelf,
  speed: Number(values.speed),
  token: process.env.SPINDLE_BENCH_TOKEN,
});
const port = await bench.listen(Number(values.port));
console.log(`bench listening on 127.0.0.1:${port}`);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => void bench.close().then(() => process.exit(0)));
