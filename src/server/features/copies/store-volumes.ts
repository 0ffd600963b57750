/** Volumes of an image stored with their files, digests and words. */
import { sliceSource, type ByteSource } from '@/core/bits/byte-source';
import { toHex } from '@/core/digester';
import { identifyVolumes } from '@/core/identify/identify';
import { volumesInside } from '@/core/identify/inside';
import type { Problem } from '@/core/problems';
import { directoriesOf, type ViewName } from '@/core/volume/disc-volume';
import { doubtsIn } from '@/core/volume/extent-source';
import { areasOf } from '@/core/structure/structure';
import { isWhole, type Extent, type Volume } from '@/core/volume/volume';
import { transcriptOf } from '@/core/text/transcript';
import { nodeDigester } from '@/node/digester';
import type { Executor } from '@/server/platform/db/database';
import { fileTexts, files, volumes } from './tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';
import type { Settled } from './settle-readings';
import { storableProblems } from './storable-problems';

/** Files above this are not searched for words. */
const TEXT_LIMIT = 256 << 10;

const BOOT_RECORD_BYTES = 512;

/** Files from this size on are hashed on a thread, while the next piece is read. */
const THREADED_FROM = 4 << 20;

interface Stored {
  view?: ViewName;
  volume: Volume;
  partition: number | null;
  offset: number;
  length: number;
  reasons: string[];
  inside: string | null;
}

/** What the search finds a file by: its text, or a program's listing. */
function wordsOf(bytes: Uint8Array, filesystem: string, type: string | undefined): string | null {
  return transcriptOf(bytes, filesystem, type);
}

async function storeVolume(
  tx: Executor,
  fairCopyId: number,
  { volume, view, partition, offset, length, reasons, inside }: Stored,
  inDoubt: Settled['inDoubt'],
  known: Map<string, string | null> = new Map(),
): Promise<void> {
  const [row] = await tx
    .insert(volumes)
    .values({
      fairCopyId,
      filesystem: volume.filesystem,
      label: volume.label && sanitizeText(volume.label),
      partition,
      inside,
      view,
      offset,
      length,
      totalBytes: volume.totalBytes,
      freeBytes: volume.freeBytes,
      fileCount: volume.entries.filter(({ kind, deleted }) => kind === 'file' && !deleted).length,
      reasons,
      problems: storableProblems(volume.problems),
    })
    .returning({ id: volumes.id });
  const values = [];
  const texts = new Map<string, string>();
  for (const [position, entry] of volume.entries.entries()) {
    // A disc's other directories list the same bytes: read and hashed once.
    const place = `${entry.bytes}/${entry.extents.map((extent) => `${extent.offset}+${extent.length}`).join()}`;
    let sha256 = known.get(place) ?? null;
    if (!known.has(place)) {
      const whole = entry.kind === 'file' && isWhole(entry);
      const bytes = whole && entry.bytes <= TEXT_LIMIT ? await volume.read(entry) : null;
      sha256 = bytes
        ? toHex(nodeDigester.sha256(bytes))
        : whole
          ? await digestOf(volume.stream(entry), entry.bytes)
          : null;
      const body = bytes && wordsOf(bytes, volume.filesystem, entry.type);
      if (sha256 && body) texts.set(sha256, sanitizeText(body));
      if (entry.kind === 'file') known.set(place, sha256);
    }
    const doubts = doubtsIn(entry.extents, offset, inDoubt);
    values.push({
      volumeId: row!.id,
      position,
      sha256,
      ...entry,
      recordedName: sanitizeText(entry.recordedName),
      link: entry.link === undefined ? null : sanitizeText(entry.link),
      sectorsInDoubt: doubts.length,
      doubts,
    });
  }
  // The same text on many disks is kept once.
  for (const [sha256, body] of texts)
    await tx.insert(fileTexts).values({ sha256, body }).onConflictDoNothing();
  for (let at = 0; at < values.length; at += 500)
    await tx.insert(files).values(values.slice(at, at + 500));
}

/** Every volume of an image, and every image that is kept as a file on one of them. */
export async function storeVolumes(
  tx: Executor,
  fairCopyId: number,
  source: ByteSource,
  inDoubt: Settled['inDoubt'],
): Promise<{ problems: Problem[]; inUse: Extent[]; files: number }> {
  const { volumes: found, problems, partitions } = await identifyVolumes(source);
  const inUse: Extent[] = [];
  let files = 0;
  if (partitions.length > 0) inUse.push({ offset: 0, length: BOOT_RECORD_BYTES });
  for (const each of found) {
    const { entries, others } = directoriesOf(each.volume);
    files += entries.filter(({ kind, deleted }) => kind === 'file' && !deleted).length;
    for (const area of await areasOf(
      sliceSource(source, each.offset, each.length),
      each.volume.filesystem,
    ))
      inUse.push({ offset: each.offset + area.offset, length: area.length });
    for (const entry of entries)
      if (!entry.deleted)
        for (const extent of entry.extents)
          inUse.push({ offset: each.offset + extent.offset, length: extent.length });
    const known = new Map<string, string | null>();
    await storeVolume(
      tx,
      fairCopyId,
      { ...each, volume: { ...each.volume, entries }, inside: null },
      inDoubt,
      known,
    );
    for (const view of others)
      await storeVolume(
        tx,
        fairCopyId,
        {
          ...each,
          view: view.name,
          volume: { ...each.volume, label: view.label, entries: view.entries, problems: [] },
          reasons: [],
          inside: null,
        },
        inDoubt,
        known,
      );
    const { offset, length } = each;
    for await (const { volume, partition, reasons, inside } of volumesInside(
      sliceSource(source, offset, length),
      { entries },
    )) {
      await storeVolume(
        tx,
        fairCopyId,
        {
          volume,
          partition: each.partition,
          offset,
          length,
          reasons,
          inside: partition === null ? inside : `${inside}/${partition}`,
        },
        inDoubt,
      );
    }
  }
  return { problems, inUse, files };
}

async function digestOf(parts: AsyncIterable<Uint8Array>, bytes: number): Promise<string> {
  if (bytes >= THREADED_FROM) return digestOfStream(parts);
  const hash = nodeDigester.sha256Stream();
  for await (const part of parts) hash.update(part);
  return toHex(hash.digest());
}
