/**
 * The fair copy: settled from every reading of a medium, with its image, sidecar, volumes and
 * files.
 */
import { desc, eq, inArray } from 'drizzle-orm';
import { memorySource, readAll, sliceSource, type ByteSource } from '@/core/bits/byte-source';
import { findingOf } from '@/core/block/verdict';
import { toHex } from '@/core/digester';
import { readContainer } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { identifyVolumes } from '@/core/identify/identify';
import { volumesInside } from '@/core/identify/inside';
import { buildSidecar } from '@/core/image/sidecar';
import { buildFlatImage } from '@/core/image/flat';
import { imageCandidates, kindsOf } from '@/core/image/kinds';
import { digestsOfImage } from '@/core/image/track-digests';
import { bytesOf, type Layout } from '@/core/layout/layout';
import type { Problem } from '@/core/problems';
import { directoriesOf, type ViewName } from '@/core/volume/disc-volume';
import { doubtsIn } from '@/core/volume/extent-source';
import { areasOf } from '@/core/structure/structure';
import { isWhole, type Extent, type Volume } from '@/core/volume/volume';
import { transcriptOf } from '@/core/text/transcript';
import {
  allSectors,
  decodeCapture,
  type CaptureDecode,
  type DecodeJob,
} from '@/core/reading/decode-capture';
import { decodeTold, withToldTracks } from '@/core/reading/controller-capture';
import type { ControllerTrack } from '@/core/reading/controller-tracks';
import { joinCaptures } from '@/core/reading/join-captures';
import { emptyTally, tallyOf, type Tally } from '@/core/reading/grades';
import { marksOf, type SectorMark } from '@/core/reading/sector-mark';
import type { ContainerHeader } from '@/core/flux/container';
import { isFloppy } from '@/core/medium-form';
import { nodeDigester } from '@/node/digester';
import { blobSource, readBlob, storeBlob } from '@/server/platform/blobs/blob-store';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, fileTexts, files, trackDigests, volumes } from './tables';
import { media } from '../media/tables';
import { sittings, controllerTracks } from '../sittings/tables';
import { decodeWorkers } from '@/server/platform/threads/decode-workers';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';
import type { BlocksKept } from '@/server/states';
import { announce } from '@/server/platform/events';
import { allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { settingsOf } from './track-overrides';
import { scanCopy } from '../signatures/signatures';
import { asMadeSectors } from './verdicts';

/** Files above this are not searched for words. */
const TEXT_LIMIT = 256 << 10;

/** Images up to this may follow a layout of a disk. */
const LARGEST_LAYOUT = 8 << 20;
const BOOT_RECORD_BYTES = 512;
/** Files from this size on are hashed on a thread, while the next piece is read. */
const THREADED_FROM = 4 << 20;

export interface Settled {
  decoded: CaptureDecode;
  /** What the image follows: the layout that fits, or the one worked out from what is there. */
  layout: Layout;
  image: Uint8Array;
  sidecar: string;
  tally: Tally;
  problems: Problem[];
  surface: { cylinder: number; head: number; tries: number; sectors: SectorMark[] }[];
  /** Byte ranges of the image that no sound sector fills. */
  inDoubt: { offset: number; length: number }[];
}

interface ToSettle {
  header: Partial<ContainerHeader> | null;
  readings: readonly TrackReading[];
  problems: Problem[];
  description: Record<string, string>;
  layouts: readonly Layout[];
  asMade: ReadonlySet<string>;
  settings?: DecodeJob['settings'];
  /** Of drives that deliver no flux. */
  controller?: readonly ControllerTrack[];
}

/**
 * Settles readings into an image, on the decoding threads; null where next to nothing was found on
 * them.
 */
export async function settle({
  header,
  readings,
  problems,
  description,
  layouts,
  asMade,
  settings,
  controller = [],
}: ToSettle): Promise<Settled | null> {
  const rpm = header?.rpm ?? DEFAULT_RPM;
  const decoded =
    readings.length > 0
      ? withToldTracks(
          await decodeCapture(header, readings, {
            layouts,
            asMade,
            settings,
            workers: decodeWorkers(),
          }),
          controller,
          rpm,
        )
      : decodeTold(controller, layouts, header?.form ?? null, rpm);
  const layout = decoded.layout ?? decoded.proposal;
  if (!layout) return null;
  const stepping = decoded.layout ? decoded.stepping : layout.stepping === 'double' ? 2 : 1;
  const sectors = allSectors({ ...decoded, layout, stepping });
  const flat = buildFlatImage(layout, sectors, { stepping });
  const firstOf = new Map<number, TrackReading>();
  for (const reading of readings)
    if (!firstOf.has(reading.cylinder * 2 + reading.head))
      firstOf.set(reading.cylinder * 2 + reading.head, reading);
  const sidecar = buildSidecar(layout, flat, sectors, problems, nodeDigester, {
    description,
    stepping,
    strange: decoded.strange,
  });
  return {
    decoded,
    layout,
    image: flat.bytes,
    sidecar: `${JSON.stringify(sidecar, null, 1)}\n`,
    tally: tallyOf(sectors.map(({ grade }) => grade)),
    problems,
    surface: decoded.tracks.map((track) => ({
      cylinder: track.cylinder,
      head: track.head,
      tries: track.readings,
      sectors: marksOf(track, firstOf.get(track.cylinder * 2 + track.head), decoded.drive),
    })),
    inDoubt: sidecar.filledIn.map(({ offset, length }) => ({ offset, length })),
  };
}

const DEFAULT_RPM = 300;

/**
 * All captures of a medium's sittings, read together, with what drives told that deliver no flux.
 */
export async function settleMedium(
  db: Executor,
  mediumId: number,
  description: Record<string, string>,
): Promise<Settled | null> {
  const rows = await db
    .select()
    .from(sittings)
    .where(eq(sittings.mediumId, mediumId))
    .orderBy(sittings.id);
  const containers = [];
  const controller: ControllerTrack[] = [];
  // In a drive with twice the cylinders every second position is a cylinder of the disk: where it
  // was read in both kinds, cylinders count.
  const mixed = new Set(rows.map(({ stepping }) => stepping)).size > 1;
  for (const { id, captureBlob, stepping } of rows) {
    const own = (
      await db
        .select()
        .from(controllerTracks)
        .where(eq(controllerTracks.sittingId, id))
        .orderBy(controllerTracks.id)
    ).map(({ controller: track, data }) => ({ ...track, data }));
    controller.push(...(mixed ? byCylinder(own, stepping) : own));
    if (!captureBlob) continue;
    const container = readContainer(await readBlob(db, captureBlob), nodeDigester);
    containers.push(
      mixed ? { ...container, tracks: byCylinder(container.tracks, stepping) } : container,
    );
  }
  const { header, readings } = joinCaptures(containers);
  const problems = containers.flatMap((container) => container.problems);
  const [medium] = await db.select({ form: media.form }).from(media).where(eq(media.id, mediumId));
  const layouts = await allLayouts(db);
  return readings.length > 0 || controller.length > 0
    ? settle({
        header: header ?? { ...(isFloppy(medium!.form) && { form: medium!.form }) },
        readings,
        controller,
        problems,
        description,
        layouts,
        asMade: await asMadeSectors(db, mediumId),
        settings: await settingsOf(db, mediumId),
      })
    : null;
}

/**
 * Readings by cylinder of the disk instead of by head position; what lies between two cylinders is
 * left out.
 */
function byCylinder<T extends { cylinder: number }>(readings: readonly T[], stepping: 1 | 2): T[] {
  return readings
    .filter(({ cylinder }) => cylinder % stepping === 0)
    .map((reading) => ({ ...reading, cylinder: reading.cylinder / stepping }));
}

const storableProblems = (problems: readonly Problem[]) =>
  problems.map((problem) => ({ ...problem, message: sanitizeText(problem.message) }));

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
async function storeVolumes(
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

export interface StoredImage {
  blobId: string;
  size: number;
  sha256: string;
}

export interface NewFairCopy {
  operatorId: number;
  mediumId: number;
  source: 'sitting' | 'upload' | 'assembly';
  sourceName?: string;
  /** Its bytes, or a sealed blob that holds them. */
  image: Uint8Array | StoredImage;
  settled: Settled | null;
  /** Where it is known whatever the image is like: of an image that was put together. */
  layout?: string | null;
  /** Byte ranges that no sound reading supplied, of an image that was put together from another. */
  inDoubt?: Settled['inDoubt'];
  /** Of a device that was read block by block. */
  fromBlocks?: { kept: BlocksKept; sidecar: string; inDoubt: Settled['inDoubt'] };
  captureBlob: string | null;
  /** Where no file is found on it, say what it is instead: of hard disks that came as files. */
  analyseTrack?: boolean;
  problems: Problem[];
  sittingId?: number;
  stationId?: number;
  /** What made it necessary, where that is neither a sitting nor an upload. */
  why?: string;
}

/** Stores a fair copy with all that hangs on it, in the caller's transaction. */
export async function storeFairCopy(tx: Executor, copy: NewFairCopy): Promise<number> {
  const { settled, fromBlocks, mediumId } = copy;
  const image =
    copy.image instanceof Uint8Array
      ? await storeBlob(tx, copy.image).then(({ id, size, sha256 }): StoredImage => ({
          blobId: id,
          size,
          sha256: sha256!,
        }))
      : copy.image;
  const source =
    copy.image instanceof Uint8Array
      ? memorySource(copy.image)
      : await blobSource(tx, image.blobId);
  const sidecar = settled?.sidecar ?? fromBlocks?.sidecar;
  const sidecarBlob = sidecar ? await storeBlob(tx, new TextEncoder().encode(sidecar)) : null;
  const layouts = await allLayouts(tx);
  const bytes =
    copy.image instanceof Uint8Array
      ? copy.image
      : image.size <= LARGEST_LAYOUT
        ? await readAll(source, LARGEST_LAYOUT)
        : null;
  const layout =
    copy.layout !== undefined
      ? copy.layout
      : settled
        ? settled.layout.id
        : bytes && !fromBlocks
          ? layoutOfImage(layouts, bytes)
          : null;
  const inDoubt = settled?.inDoubt ?? fromBlocks?.inDoubt ?? copy.inDoubt ?? [];
  const [row] = await tx
    .insert(fairCopies)
    .values({
      mediumId,
      source: copy.source,
      sourceName: copy.sourceName,
      layout,
      proposal: settled && !settled.decoded.layout ? settled.layout : null,
      strange: settled?.decoded.strange,
      matches: settled?.decoded.matches
        .slice(0, 4)
        .map(({ layout, confidence, evidence }) => ({ id: layout.id, confidence, evidence })),
      imageBlob: image.blobId,
      sidecarBlob: sidecarBlob?.id,
      blocks: fromBlocks?.kept,
      captureBlob: copy.captureBlob,
      imageSha256: image.sha256,
      imageBytes: image.size,
      tally: settled?.tally ?? (fromBlocks && tallyOfBlocks(fromBlocks.kept)),
      problems: storableProblems(copy.problems),
      surface: settled?.surface,
      madeBy: copy.operatorId,
    })
    .returning({ id: fairCopies.id });
  const { problems, inUse, files: fileCount } = await storeVolumes(tx, row!.id, source, inDoubt);
  const rule = settled?.layout ?? layouts.find(({ id }) => id === layout);
  const digests = rule && bytes ? digestsOfImage(rule, bytes, inDoubt, nodeDigester) : [];
  if (digests.length > 0)
    await tx.insert(trackDigests).values(digests.map((each) => ({ fairCopyId: row!.id, ...each })));
  if (problems.length > 0)
    await tx
      .update(fairCopies)
      .set({ problems: storableProblems([...copy.problems, ...problems]) })
      .where(eq(fairCopies.id, row!.id));
  // What looks empty is looked at closely, where it was a device.
  if ((fromBlocks || copy.analyseTrack) && fileCount === 0)
    await tx
      .update(fairCopies)
      .set({ finding: await findingOf(source, { inUse, files: fileCount, unread: inDoubt }) })
      .where(eq(fairCopies.id, row!.id));
  await scanCopy(tx, row!.id, source, { operatorId: copy.operatorId, mediumId });
  const [medium] = await tx.select().from(media).where(eq(media.id, mediumId));
  const twins = await tx
    .selectDistinct({ code: media.code })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.imageSha256, image.sha256));
  const others = twins.map(({ code }) => code).filter((code) => code !== medium!.code);
  await note(tx, {
    operatorId: copy.operatorId,
    kind: copy.source === 'upload' ? 'taken-in' : 'fair-copy',
    mediumId,
    sittingId: copy.sittingId,
    stationId: copy.stationId,
    what:
      `${copy.why ?? (copy.source === 'upload' ? `Taken in from ${copy.sourceName}` : 'Fair copy settled')}: ` +
      `${image.size.toLocaleString('en')} bytes, SHA-256 ` +
      `${image.sha256.slice(0, 12)}${others.length > 0 ? `; the same image is held as ${others.join(', ')}` : ''}.`,
  });
  await announce(tx, { kind: 'media' });
  return row!.id;
}

const tallyOfBlocks = ({ extents, blocks }: BlocksKept): Tally => {
  const tally = emptyTally();
  for (const [from, to, grade] of extents) tally[grade] += to - from;
  tally.unread += blocks - extents.reduce((sum, [from, to]) => sum + to - from, 0);
  return tally;
};

async function digestOf(parts: AsyncIterable<Uint8Array>, bytes: number): Promise<string> {
  if (bytes >= THREADED_FROM) return digestOfStream(parts);
  const hash = nodeDigester.sha256Stream();
  for await (const part of parts) hash.update(part);
  return toHex(hash.digest());
}

/**
 * A flat image's layout, where its size and content leave no doubt, and its sectors lie in the
 * layout's own order.
 */
function layoutOfImage(layouts: readonly Layout[], image: Uint8Array): string | null {
  const fitting = layouts.filter((layout) => bytesOf(layout) === image.length);
  const candidates = imageCandidates(image);
  const [first] = candidates;
  if (
    fitting.length !== 1 ||
    (first?.layout &&
      (candidates.length > 1 || first.kind !== kindsOf(first.layout)[0] || first.status))
  )
    return null;
  return fitting[0]!.id;
}

export async function latestFairCopy(db: Executor, mediumId: number) {
  const [copy] = await db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, mediumId))
    .orderBy(desc(fairCopies.id))
    .limit(1);
  return copy ?? null;
}

/** The volumes of a fair copy, each with its entries in their own order. */
export async function contentsOf(db: Executor, fairCopyId: number) {
  const rows = await db
    .select()
    .from(volumes)
    .where(eq(volumes.fairCopyId, fairCopyId))
    .orderBy(volumes.offset, volumes.id);
  if (rows.length === 0) return [];
  const entries = await db
    .select()
    .from(files)
    .where(
      inArray(
        files.volumeId,
        rows.map(({ id }) => id),
      ),
    )
    .orderBy(files.volumeId, files.position);
  return rows.map((volume) => ({
    ...volume,
    entries: entries.filter(({ volumeId }) => volumeId === volume.id),
  }));
}
