/** What of an image on the command line no sound reading supplied: by its sidecar, or as it is read. */
import { createHash } from 'node:crypto';
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { z } from 'zod';
import type { ByteSource } from '@/core/bits/byte-source';
import { NO_DOUBTS, type Doubts } from '@/core/block/image-doubts';
import { joined } from '@/core/volume/extents';
import type { Extent } from '@/core/volume/volume';
import { USER_SECTOR_BYTES } from '@/core/optical/raw-sector';

/** A larger sidecar is none. */
const MAX_SIDECAR = 64 << 20;
const PIECE = 1 << 20;

/** What both kinds of sidecar say of an image. */
const AnySidecar = z.object({
  image: z.object({ bytes: z.int().min(0), sha256: z.string().nullable() }),
  blockBytes: z.int().min(1).optional(),
  filledIn: z.array(z.object({ offset: z.int().min(0), length: z.int().min(1) })),
});

async function sidecarAt(path: string): Promise<z.output<typeof AnySidecar> | null> {
  const isFair = await stat(path).then(
    ({ size }) => size <= MAX_SIDECAR,
    () => false,
  );
  if (!isFair) return null;
  try {
    return AnySidecar.parse(JSON.parse(await readFile(path, 'utf8')));
  } catch {
    return null;
  }
}

async function digestOf(source: ByteSource): Promise<string> {
  const hash = createHash('sha256');
  for (let at = 0; at < source.size; at += PIECE) hash.update(await source.read(at, PIECE));
  return hash.digest('hex');
}

/** By a sidecar that stands beside the image and means these bytes; none without one. */
export async function doubtsBeside(path: string, source: ByteSource): Promise<Doubts> {
  const stem = basename(path, extname(path));
  for (const name of [`${stem}.sidecar.json`, `${basename(path)}.sidecar.json`]) {
    const sidecar = await sidecarAt(join(dirname(path), name));
    if (sidecar?.image.bytes !== source.size || sidecar.filledIn.length === 0) continue;
    if (sidecar.image.sha256 !== null && sidecar.image.sha256 !== (await digestOf(source)))
      continue;
    return { ranges: sidecar.filledIn, sectorBytes: sidecar.blockBytes ?? null };
  }
  return NO_DOUBTS;
}

/** Sectors of a raw disc that proved lost when they were read. */
export class LostSectors {
  private readonly sectors = new Set<number>();
  /** In order, side by side put together; null where another came since. */
  private ranges: readonly Extent[] | null = null;

  add = (sector: number): void => {
    if (this.sectors.has(sector)) return;
    this.sectors.add(sector);
    this.ranges = null;
  };

  doubts(): Doubts {
    const inOrder = () => [...this.sectors].sort((a, b) => a - b);
    const length = USER_SECTOR_BYTES;
    this.ranges ??= joined(inOrder().map((sector) => ({ offset: sector * length, length })));
    return { ranges: this.ranges, sectorBytes: length };
  }
}
