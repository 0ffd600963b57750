/** Files from the desktop that become something else on their target: sounds on sampler disks. */
import { memorySource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { WritableVolume } from '@/core/volume/writable';
import { UserError } from '@/server/platform/errors';
import { runImageTask } from '@/server/platform/threads/image-tasks';

/** A file of sound as a sample of the disk; anything else as it is. */
export async function uploadFor(
  volume: Pick<WritableVolume, 'filesystem' | 'suggestName'>,
  name: string,
  bytes: Uint8Array,
): Promise<Uint8Array> {
  if (volume.filesystem !== 'sampler') return bytes;
  const own = volume.suggestName(name);
  const made = await runImageTask(memorySource(bytes), 'as-sample', { name: own });
  if (made === null) return bytes;
  if ('said' in made)
    throw new UserError(said('assemblies.isNoSoundFor', { name, why: made.said }), 422);
  return made;
}
