/** What a volume says where it can't do what is asked. */
import { VolumeRefusal } from '@/core/volume/writable';

/** Why a volume refuses what is done to it; null where it does it. */
export function refusalOf(work: () => unknown): string | null {
  try {
    work();
  } catch (error) {
    if (error instanceof VolumeRefusal) return error.reason;
    throw error;
  }
  return null;
}
