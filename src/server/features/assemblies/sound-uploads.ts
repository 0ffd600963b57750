/** Files from the desktop that become something else on their target: sounds on samplers' disks. */
import { memorySource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { WritableVolume } from '@/core/volume/writable';
import { tell } from '@/messages/tell';
import { UserError } from '@/server/platform/errors';
import { runImageTask } from '@/server/platform/threads/image-tasks';

/** A file of sound as a sample of the disk, with what is to be told of it; anything else as it is. */
export async function uploadFor(
  volume: Pick<WritableVolume, 'filesystem' | 'suggestName'>,
  name: string,
  bytes: Uint8Array,
  folder: string,
): Promise<{ file: Uint8Array; remarks: string | null }> {
  const asItIs = { file: bytes, remarks: null };
  const { filesystem } = volume;
  if (filesystem !== 'sampler' && filesystem !== 'wavesample') return asItIs;
  if (filesystem === 'wavesample' && folder === '')
    throw new UserError(said('wavesample.hasSixBanks'), 422);
  const own = volume.suggestName(name);
  const made = await runImageTask(memorySource(bytes), 'as-sample', {
    name: own,
    filesystem,
  });
  // A wave is what it is heard as: bytes that are no sound would be noise.
  if (made === null && filesystem === 'wavesample')
    throw new UserError(said('assemblies.isNoSound', { name }), 422);
  if (made === null) return asItIs;
  if ('said' in made)
    throw new UserError(said('assemblies.isNoSoundFor', { name, why: made.said }), 422);
  const { file, remarks } = made;
  return { file, remarks: remarks.length > 0 ? remarks.map(tell).join('; ') : null };
}
