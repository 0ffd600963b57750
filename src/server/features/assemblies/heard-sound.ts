/** A sound of a volume that takes shape: heard before it is settled. */
import { memorySource } from '@/core/bits/byte-source';
import type { Database } from '@/server/platform/db/database';
import { notFound, said } from '@/server/platform/errors';
import { downloadBytes } from '@/server/platform/http/respond';
import { runImageTask } from '@/server/platform/threads/image-tasks';
import { assemblyRow, openAssembly } from './assembly-volume';

export async function soundOfAssembly(db: Database, id: number, path: string): Promise<Response> {
  const { image, kind } = await openAssembly(db, await assemblyRow(db, id));
  const wav = await runImageTask(memorySource(image), 'sound', { path, kind });
  if (!wav) throw notFound(said('assemblies.soundAt', { path }));
  return downloadBytes(wav, `${path.split('/').pop()}.wav`, 'audio/wav');
}
