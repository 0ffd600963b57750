/** Connections to a station's drive, for the length of one question; and what a simulated bench's hand does. */
import { BenchClient } from '@/benchlink/client';
import type { DeviceLink } from '@/benchlink/device-link';
import { DeviceError } from '@/benchlink/messages';
import { UserError } from '@/server/platform/errors';
import { benchAddress } from '@/server/platform/devices/bench-address';
import { isLocal } from '@/server/platform/devices/links';
import { LocalLink } from '@/server/platform/devices/local-link';
import { asWritten, said } from '@/core/said';

/** A connection for the length of `work`; a bench that is gone becomes a sentence. */
export async function withBench<T>(work: (bench: BenchClient) => Promise<T>): Promise<T> {
  const bench = await BenchClient.connect(benchAddress()).catch((error) => {
    const isRefused = error instanceof DeviceError && error.failure === 'refused';
    const why = isRefused ? said('stations.theBenchWantsAnother') : said('stations.theBenchCantBe');
    throw new UserError(why, 503, null, { cause: error });
  });
  try {
    return await work(bench);
  } catch (error) {
    if (error instanceof DeviceError)
      throw new UserError(asWritten(error.message), 409, null, { cause: error });
    throw error;
  } finally {
    bench.close();
  }
}

/** The same for a drive wherever it is; `hands` are there where the bench is simulated. */
export async function withDrive<T>(
  drive: string,
  work: (link: DeviceLink, hands: BenchClient | null) => Promise<T>,
): Promise<T> {
  if (!isLocal(drive)) return withBench((bench) => work(bench, bench.simulated ? bench : null));
  const link = new LocalLink();
  try {
    return await work(link, null);
  } catch (error) {
    if (error instanceof DeviceError)
      throw new UserError(
        said('stations.checkItsPowerAnd', { message: error.message }),
        409,
        null,
        { cause: error },
      );
    throw error;
  } finally {
    link.close();
  }
}

/** Disks on a simulated bench's shelf; nothing at a real one. */
export async function shelfItems() {
  return withBench(async (bench) => (bench.simulated ? bench.shelf() : []));
}
