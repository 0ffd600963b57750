/** Where the bench listens, and what it wants to be shown. */
import type { BenchAddress } from '@/benchlink/client';
import { config } from '../config';

export function benchAddress(): BenchAddress {
  const [host = '', port = ''] = config().SPINDLE_BENCH.split(':');
  return { host, port: Number(port), token: config().SPINDLE_BENCH_TOKEN };
}
