/** Where the bench listens: SPINDLE_BENCH as `host:port`. */
import type { BenchAddress } from '@/benchlink/client';

export function benchAddress(): BenchAddress {
  const [host = '127.0.0.1', port = ''] = (process.env.SPINDLE_BENCH ?? '127.0.0.1:4717').split(
    ':',
  );
  return { host, port: Number(port) };
}
