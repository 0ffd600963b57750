/** Where a drive is reached: on the bench, or as a device of the server itself. */
import { BenchClient } from '@/benchlink/client';
import type { DeviceLink } from '@/benchlink/device-link';
import { benchAddress } from './bench-address';
import { LOCAL } from './allowed';
import { LocalLink } from './local-link';

export const isLocal = (drive: string): boolean => drive.startsWith(LOCAL);

export async function linkFor(drive: string): Promise<DeviceLink> {
  return isLocal(drive) ? new LocalLink() : BenchClient.connect(benchAddress());
}
