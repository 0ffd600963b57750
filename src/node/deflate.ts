/** Node's deflate for the core: on its own threads, so that chunks are packed side by side. */
import { deflateRaw, inflateRaw } from 'node:zlib';
import { promisify } from 'node:util';
import type { Deflater, Inflater } from '@/core/packing/packed';

const packs = promisify(deflateRaw) as (bytes: Uint8Array, options: object) => Promise<Buffer>;
const unpacks = promisify(inflateRaw) as (bytes: Uint8Array, options: object) => Promise<Buffer>;

export const nodeDeflater: Deflater = { deflate: (bytes) => packs(bytes, { level: 6 }) };
/** What unpacks to more than it should is no chunk of ours, whatever else it is. */
export const nodeInflater: Inflater = {
  inflate: (packed, bytes) => unpacks(packed, { maxOutputLength: Math.max(1, bytes) }),
};
