/** Loads the gzipped vectors under `tests/vectors`: cases made independently of this code. */
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';

const ROOT = join(process.cwd(), 'tests', 'vectors');

export function loadVector(name: string): Uint8Array {
  const bytes = gunzipSync(readFileSync(join(ROOT, `${name}.gz`)));
  return new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.length);
}

export function loadExpectation<T>(name: string): T {
  return JSON.parse(new TextDecoder().decode(loadVector(`${name}.expect.json`))) as T;
}

export const sha256Hex = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
