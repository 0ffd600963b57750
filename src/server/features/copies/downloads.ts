/**
 * What leaves the house: images, sidecars, captures and single files, as streams; and a file's
 * first
 * bytes for reading in place.
 */
import { eq } from 'drizzle-orm';
import { fileNameOfCode } from '@/core/medium-code';
import { sliceSource } from '@/core/bits/byte-source';
import { isRawDisc } from '@/core/block/device';
import { streamContents } from '@/core/volume/contents';
import type { VolumeEntry } from '@/core/volume/volume';
import { safeName } from '@/core/volume/safe-name';
import { kindsOf, writeKind } from '@/core/image/kinds';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobSource, readBlob, refuseDamaged, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies, files, volumes } from './tables';
import { describedCapture } from './described/described-capture';
import { describedSidecar } from './described/described-sidecar';
import { media } from '../media/tables';
import { sittings } from '../sittings/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { rangedDownload } from '@/server/platform/http/ranges';
import { download, downloadBytes } from '@/server/platform/http/respond';
import { layoutOfCopy } from '../layouts/layouts';
import { rawImage, rawTracksOf, sheetPart, soundPart, type SoundWanted } from './disc-parts';
import { soundThrough } from './disc-through';
import { imageName } from './image-of-copy';
import { refuseQuarantined } from '../signatures/signatures';
import type { Wanted } from './files-of-copy';
import { zipOfCopy } from './zip-of-copy';
import { said } from '@/core/said';

/** Bytes of a file that are shown in place. */
const PREVIEW_BYTES = 512 * 1024;

/** `kind` asks for the image in another order; the layout's own where left out. */
export async function copyPart(
  db: Database,
  id: number,
  part: string,
  {
    kind = null,
    acknowledgesQuarantine = false,
    headers = new Headers(),
    track = null,
    through = false,
    isDeEmphasised = false,
    isDescribed = false,
    ...wanted
  }: PartWanted = {},
): Promise<Response> {
  const [row] = await db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, id));
  if (!row) throw notFound(said('platform.suchFairCopy'));
  if (part !== 'sidecar') await refuseQuarantined(db, id, acknowledgesQuarantine);
  if (part === 'zip') return zipOfCopy(db, row.fair_copies, row.media.code, wanted);
  const { imageBlob, sidecarBlob, captureBlob, blocks } = row.fair_copies;
  if (part === 'image' && kind) return imageAs(db, row, kind);
  const fileName = fileNameOfCode(row.media.code);
  const parts: Record<string, [string | null, string, string]> = {
    image: [imageBlob, imageName(row.media.code, row.media.form), 'application/octet-stream'],
    sidecar: [sidecarBlob, `${fileName}.sidecar.json`, 'application/json'],
    capture: [
      captureBlob,
      `${fileName}.${blocks?.tracks.length ? 'bin' : 'fsflux'}`,
      'application/octet-stream',
    ],
  };
  if (part === 'cue' && blocks?.tracks.length) {
    const { name, bytes, stream } = sheetPart(blocks.tracks, `${fileName}.bin`, row.media.code);
    return download(stream(), name, bytes, 'text/plain; charset=utf-8');
  }
  if (part === 'sound' && rawTracksOf(row.fair_copies).length > 0)
    return soundOf(
      db,
      row.fair_copies,
      { number: track, isDeEmphasised },
      { code: row.media.code, through, headers },
    );
  const [blob, name, type] = parts[part] ?? [null, '', ''];
  if (!blob) throw notFound(said('copies.withThisCopy', { part }));
  if (part === 'sidecar')
    return rangedDownload(headers, {
      name,
      type,
      ...(await describedSidecar(db, blob, row.fair_copies, row.media)),
    });
  if (part === 'capture' && isDescribed && !blocks)
    return describedCapture(db, blob, row.media, name);
  return blobDownload(db, headers, blob, name, type);
}

interface PartWanted extends Wanted {
  kind?: string | null;
  acknowledgesQuarantine?: boolean;
  /** Of the request: a range may be asked for. */
  headers?: Headers;
  /** Of a disc, which track of sound. */
  track?: number | null;
  /** And the tracks behind it, as a player goes through them. */
  through?: boolean;
  isDeEmphasised?: boolean;
  /** Of a flux capture: with what is said of its medium in its header. */
  isDescribed?: boolean;
}

/** A blob as it lies, or a range of it. */
export async function blobDownload(
  db: Database,
  headers: Headers,
  blob: string,
  name: string,
  type?: string,
): Promise<Response> {
  await refuseDamaged(db, blob);
  const { size, sha256 } = await blobOf(db, blob);
  return rangedDownload(headers, {
    name,
    size,
    tag: sha256,
    type,
    stream: (start, end) => streamBlob(db, blob, start, end),
  });
}

interface SoundAnswered {
  code: string;
  through: boolean;
  headers: Headers;
}

/** A track of sound of a disc, as WAV; or all from it on, any range of them. */
async function soundOf(
  db: Database,
  copy: typeof fairCopies.$inferSelect,
  { number, ...wanted }: SoundWanted & { number: number | null },
  { code, through, headers }: SoundAnswered,
): Promise<Response> {
  const tracks = rawTracksOf(copy);
  const track = tracks.find((each) => each.number === number && each.type === 'AUDIO');
  if (!track) throw notFound(said('copies.trackOfSoundOn', { number: number ?? '' }));
  await refuseDamaged(db, copy.captureBlob!);
  const source = await rawImage(db, copy);
  const type = 'audio/wav';
  if (!through) {
    const { name, bytes, stream } = soundPart(source, track, code, wanted)!;
    return download(stream(), name, bytes, type);
  }
  const { name, bytes, stream } = soundThrough(source, tracks, track.number, wanted);
  return rangedDownload(headers, {
    name: `${fileNameOfCode(code)}-${name}`,
    size: bytes,
    tag: null,
    type,
    stream,
  });
}

async function imageAs(
  db: Database,
  {
    fair_copies: copy,
    media: medium,
  }: { fair_copies: typeof fairCopies.$inferSelect; media: typeof media.$inferSelect },
  wanted: string,
): Promise<Response> {
  const layout = await layoutOfCopy(db, copy);
  const kind = kindsOf(layout).find((each) => each === wanted);
  if (!kind)
    throw new UserError(
      said('copies.cantBeWrittenAs', {
        code: medium.code,
        wanted,
        layout: kindsOf(layout).join(', '),
      }),
      409,
    );
  const bytes = writeKind(
    { layout, bytes: await readBlob(db, copy.imageBlob), status: null },
    kind,
    false,
  );
  return downloadBytes(bytes, `${fileNameOfCode(medium.code)}.${kind}`);
}

/** The capture of one sitting, whole or as far as it has come. */
/** `isDescribed`: of flux, with what is said of its medium in its header. */
export async function sittingCapture(
  db: Database,
  id: number,
  headers = new Headers(),
  isDescribed = false,
): Promise<Response> {
  const [row] = await db
    .select()
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .where(eq(sittings.id, id));
  if (!row?.sittings.captureBlob) throw notFound(said('copies.captureOfThisSitting'));
  const { device } = row.sittings;
  const ending = device ? (isRawDisc(device) ? 'bin' : 'img') : 'fsflux';
  const name = `${fileNameOfCode(row.media.code)}-sitting-${id}.${ending}`;
  if (isDescribed && !device)
    return describedCapture(db, row.sittings.captureBlob, row.media, name);
  return blobDownload(db, headers, row.sittings.captureBlob, name);
}

/** A file that can be taken out, with the image that it lies in; refuses what is none. */
export async function findFile(db: Database, id: number) {
  const [row] = await db
    .select()
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .where(eq(files.id, id));
  if (!row || row.files.kind !== 'file') throw notFound(said('platform.suchFile'));
  if (row.files.link !== null)
    throw new UserError(said('copies.thisIsALink', { link: row.files.link }), 410);
  if (row.files.recoverable === 'none')
    throw new UserError(said('copies.nothingOfThisDeleted'), 410);
  return {
    file: row.files,
    image: row.fair_copies.imageBlob,
    base: row.volumes.offset,
    copyId: row.fair_copies.id,
  };
}

/** A file's bytes out of its image, by its extents. */
export async function* streamFile(
  db: Executor,
  image: string,
  base: number,
  file: Placed,
): AsyncGenerator<Uint8Array> {
  const source = await blobSource(db, image);
  yield* streamContents(sliceSource(source, base, source.size), file);
}

type Placed = Pick<VolumeEntry, 'extents' | 'bytes' | 'packedBytes'>;

/** Bytes of a file that are there; null where only unpacking tells. */
export function available({
  extents,
  bytes,
  packedBytes,
  damaged,
}: Placed & Pick<VolumeEntry, 'damaged'>): number | null {
  if (packedBytes !== null && packedBytes !== undefined) return damaged ? null : bytes;
  return Math.min(
    bytes,
    extents.reduce((sum, { length }) => sum + length, 0),
  );
}

export async function fileBytes(
  db: Database,
  id: number,
  acknowledgesQuarantine = false,
): Promise<Response> {
  const { file, image, base, copyId } = await findFile(db, id);
  await refuseQuarantined(db, copyId, acknowledgesQuarantine);
  const name = safeName(file.path.split('/').pop()!);
  return download(streamFile(db, image, base, file), name, available(file));
}

/** The most that is listened to at once: no sample has more. */
export const LISTEN_BYTES = 64 * 1024 * 1024;

/** The bytes of a file, to be heard in place: all of them, so that quarantine holds for it. */
export async function fileToHear(db: Database, id: number): Promise<Response> {
  const { file, image, base, copyId } = await findFile(db, id);
  await refuseQuarantined(db, copyId, false);
  const there = available(file);
  const size = there ?? file.bytes;
  if (size > LISTEN_BYTES) throw new UserError(said('copies.isTooLongToHear'), 413);
  return download(streamFile(db, image, base, file), 'sound', there);
}

/** The first bytes of a file, to be read in place. */
export async function filePreview(db: Database, id: number): Promise<Response> {
  const { file, image, base } = await findFile(db, id);
  const there = available(file);
  const size = Math.min(PREVIEW_BYTES, there ?? file.bytes);
  const first = streamFile(db, image, base, { ...file, bytes: size });
  return download(first, 'preview', there === null ? null : size);
}
