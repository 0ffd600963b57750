/** An image to look into, from a flat file or decoded from a capture. */
import { FORMAT_WITHIN, beginsAsContainer } from '@/core/flux/container';
import { asWritten } from '@/core/said';
import { memorySource, type ByteSource } from '@/core/bits/byte-source';
import { looksRaw } from '@/core/optical/aligned-source';
import { looksLikeCue } from '@/core/optical/cue';
import type { Doubts } from '@/core/block/image-doubts';
import { fileSource } from './files';
import { doubtsBeside, LostSectors } from './image-doubts';
import { JobError } from './usage';

/**
 * Images up to this are held whole: a read for every sector or file took longer than all the rest.
 */
const HELD_WHOLE = 64 << 20;

/** Enough to tell a sheet by. */
const SHEET_HEAD = 64;

/** An image, and what of it no sound reading supplied, as far as was read. */
export interface OpenedImage extends ByteSource {
  close(): Promise<void>;
  doubts(): Doubts;
}

/** The data of a raw disc; null where the path is none, or there is none on it. */
async function openRawDisc(path: string): Promise<OpenedImage | null> {
  const [{ openDisc }, { discData }, { seenTracks }] = [
    await import('./open-disc'),
    await import('@/core/optical/disc-data'),
    await import('@/core/optical/seen-tracks'),
  ];
  const disc = await openDisc(path);
  const seen = disc && (await seenTracks(disc.sheet, disc.sources));
  const lost = new LostSectors();
  const data = seen && (await discData(disc.sources, seen.tracks, { onLost: lost.add }));
  if (!disc || !data) {
    await disc?.close();
    return null;
  }
  return { ...data, close: disc.close, doubts: () => lost.doubts() };
}

/** An image with what a sidecar beside it says. */
async function withSidecar(
  path: string,
  source: ByteSource & { close(): Promise<void> },
): Promise<OpenedImage> {
  const doubts = await doubtsBeside(path, source);
  return { ...source, doubts: () => doubts };
}

/** What is packed is unpacked where it is read; null where it is no packed file of ours. */
async function openPacked(
  file: ByteSource & { close(): Promise<void> },
): Promise<(ByteSource & { close(): Promise<void> }) | null> {
  const [{ PackedDamage, packedSource, readIndex }, { nodeInflater }] = [
    await import('@/core/packing/packed'),
    await import('@/node/deflate'),
  ];
  const index = await readIndex(file);
  if (!index) return null;
  const content = packedSource(file, index, nodeInflater);
  const asJob = (error: unknown): never => {
    throw error instanceof PackedDamage
      ? new JobError(asWritten(error.message), { cause: error })
      : error;
  };
  return {
    size: content.size,
    read: (offset, length) => content.read(offset, length).catch(asJob),
    close: () => file.close(),
  };
}

/**
 * A capture is decoded first; where no layout fits it, it holds an empty image. Raw discs give
 * their user data, packed images their content.
 */
export async function openImage(path: string): Promise<OpenedImage> {
  const file = await fileSource(path);
  const head = await file.read(0, SHEET_HEAD);
  if (head[0] === 0x1f && head[1] === 0x8b) {
    const packed = await openPacked(file);
    if (packed) return withSidecar(path, packed);
  }
  if (looksLikeCue(new TextDecoder().decode(head)) || (await looksRaw(file))) {
    const disc = await openRawDisc(path);
    if (disc) {
      await file.close();
      return disc;
    }
  }
  if (!beginsAsContainer(await file.read(0, FORMAT_WITHIN))) {
    if (file.size > HELD_WHOLE) return withSidecar(path, file);
    const bytes = await file.read(0, file.size);
    await file.close();
    return withSidecar(path, { ...memorySource(bytes), close: async () => undefined });
  }
  await file.close();
  // Loaded only where it is needed: most images are none.
  const { decodeFiles } = await import('./captures');
  const { filledIn } = await import('@/core/image/sidecar');
  const { image } = await decodeFiles([path]);
  const ranges = image ? filledIn(image, false) : [];
  return {
    ...memorySource(image?.bytes ?? new Uint8Array(0)),
    close: async () => undefined,
    doubts: () => ({ ranges, sectorBytes: null }),
  };
}
