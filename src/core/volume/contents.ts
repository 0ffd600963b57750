/** The bytes of a file as its readers know it: unpacked where it is packed on its disc. */
import type { ByteSource } from '../bits/byte-source';
import { extentSource } from './extent-source';
import { unpackZisofs } from './iso9660/zisofs';
import { streamExtents, type VolumeEntry } from './volume';

/** Ends early where bytes are missing, or where packed ones are damaged. */
export function streamContents(
  source: ByteSource,
  { extents, bytes, packedBytes }: Pick<VolumeEntry, 'extents' | 'bytes' | 'packedBytes'>,
): AsyncGenerator<Uint8Array> {
  return typeof packedBytes === 'number'
    ? unpackZisofs(extentSource(source, { extents, bytes: packedBytes }), bytes)
    : streamExtents(source, { extents, bytes });
}
