/** An image to look into, from a flat file or decoded from a capture. */
import { FORMAT_WITHIN, beginsAsContainer } from '@/core/flux/container';
import { memorySource, type ByteSource } from '@/core/bits/byte-source';
import { fileSource } from './files';

/** Images up to this are held whole: a read for every sector or file took longer than all the rest. */
const HELD_WHOLE = 64 << 20;

/** A capture is decoded first; where no layout fits it, it holds an empty image. */
export async function openImage(path: string): Promise<ByteSource & { close(): Promise<void> }> {
  const file = await fileSource(path);
  if (!beginsAsContainer(await file.read(0, FORMAT_WITHIN))) {
    if (file.size > HELD_WHOLE) return file;
    const bytes = await file.read(0, file.size);
    await file.close();
    return { ...memorySource(bytes), close: async () => undefined };
  }
  await file.close();
  // Loaded only where it is needed: most images are none.
  const { decodeFiles } = await import('./captures');
  const { image } = await decodeFiles([path]);
  return { ...memorySource(image?.bytes ?? new Uint8Array(0)), close: async () => undefined };
}
