/** Captures and layouts as the commands take them: read, joined, decoded on threads. */
import { said } from '@/core/said';
import { readFile } from 'node:fs/promises';
import { SHIPPED_LAYOUTS, shippedLayout } from '@/core/layout/shipped';
import type { Layout } from '@/core/layout/layout';
import { beginsAsContainer } from '@/core/flux/container';
import {
  ContainerReader,
  readContainer,
  type ContainerSummary,
} from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { buildFlatImage, type FlatImage } from '@/core/image/flat';
import {
  INLINE,
  allSectors,
  decodeCapture,
  type CaptureDecode,
  type TrackWorkers,
} from '@/core/reading/decode/decode-capture';
import { joinCaptures } from '@/core/reading/decode/join-captures';
import type { TrackSector } from '@/core/reading/track-sector';
import { decodePool } from '@/node/decode-pool';
import { nodeDigester } from '@/node/digester';
import { readWhole } from './files';
import { JobError, UsageError } from './usage';

/** Below this a capture is decoded sooner than threads are started. */
const BYTES_FOR_THREADS = 4 << 20;

/** A capture in a file begins with its header, but may be hurt: one reading found is enough. */
export function looksLikeCapture(bytes: Uint8Array): boolean {
  let found = beginsAsContainer(bytes);
  if (!found) {
    const reader = new ContainerReader(() => {
      found = true;
    }, null);
    reader.push(bytes.subarray(0, 1 << 20));
    reader.end();
  }
  return found;
}

/** The layout of an id or a file, checked. */
export async function layoutFrom(given: string): Promise<Layout> {
  const shipped = shippedLayout(given);
  if (shipped) return shipped;
  let text: string;
  try {
    text = await readFile(given, 'utf8');
  } catch {
    throw new UsageError(said('ofCaptures.thereIsNoLayout', { given }));
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new JobError(said('commands.isNoJson', { path: given }));
  }
  const { parseLayout } = await import('@/core/layout/schema');
  const { layout, problems } = parseLayout(json);
  if (!layout) throw new JobError(said('ofCaptures.isNoUsableLayout', { path: given, problems }));
  return layout;
}

/** `2`, `1-3`, `2-`: passes as they are numbered in the capture. */
export function passRange(text: string): (reading: TrackReading) => boolean {
  const match = /^(\d+)(-(\d*))?$/.exec(text);
  if (!match) throw new UsageError(said('ofCaptures.passesTakes', { text }));
  const from = Number(match[1]);
  const to = match[2] === undefined ? from : match[3] ? Number(match[3]) : Infinity;
  return ({ pass }) => pass >= from && pass <= to;
}

export interface DecodedCaptures {
  containers: { path: string; summary: ContainerSummary }[];
  decoded: CaptureDecode;
  sectors: TrackSector[];
  /** Null where no layout fits. */
  image: FlatImage | null;
}

interface DecodeOptions {
  layout?: Layout | null;
  passes?: (reading: TrackReading) => boolean;
  keepDoubtful?: boolean;
}

/** Decodes one capture, or several of one disk together. */
export async function decodeFiles(
  paths: readonly string[],
  { layout = null, passes = () => true, keepDoubtful = false }: DecodeOptions = {},
): Promise<DecodedCaptures> {
  const containers = [];
  let bytes = 0;
  for (const path of paths) {
    const file = await readWhole(path);
    bytes += file.length;
    const { tracks, ...summary } = readContainer(file, nodeDigester);
    if (summary.problems.some(({ kind }) => kind === 'not-a-capture'))
      throw new JobError(said('ofCaptures.isNoCapture', { path }));
    containers.push({ path, summary, tracks: tracks.filter(passes) });
  }
  const { header, readings } = joinCaptures(
    containers.map(({ summary, tracks }) => ({ header: summary.header, tracks })),
  );
  const pool =
    bytes > BYTES_FOR_THREADS ? decodePool(new URL('./decode-thread.js', import.meta.url)) : null;
  const workers: TrackWorkers = pool ?? INLINE;
  try {
    const decoded = await decodeCapture(header, readings, {
      layouts: SHIPPED_LAYOUTS,
      layout,
      workers,
    });
    const sectors = allSectors(decoded);
    return {
      containers,
      decoded,
      sectors,
      image: decoded.layout
        ? buildFlatImage(decoded.layout, sectors, { stepping: decoded.stepping, keepDoubtful })
        : null,
    };
  } finally {
    pool?.close();
  }
}
