/**
 * Taking in files that exist already: images and flux captures, packed or not, known by their
 * content.
 */
import { eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import type { ByteSource } from '@/core/bits/byte-source';
import { memorySource } from '@/core/bits/byte-source';
import { candidatesOf, identifyVolumes } from '@/core/identify/identify';
import { readContainer } from '@/core/flux/container-reader';
import { beginsAsContainer } from '@/core/flux/container';
import { bytesOf } from '@/core/layout/layout';
import type { MediumForm } from '@/core/medium-form';
import { packedSource, readIndex } from '@/core/packing/packed';
import { nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { media, sets } from '../media/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError } from '@/server/platform/errors';
import { storeSource } from '../copies/block-copies';
import { copyOfRawDisc, rawDiscOf } from '../copies/disc-images';
import { storeFairCopy, type NewFairCopy, type StoredImage } from '../copies/fair-copies';
import { settle } from '../copies/settle-readings';
import { drawCode } from '../media/codes';
import { allLayouts } from '../layouts/layouts';
import { note } from '../ledger/ledger';

/** Most bytes of one file taken in with one request; larger ones come in parts. */
export const INTAKE_LIMIT = 64 * 1024 * 1024;
const SMALLEST_SECTOR = 128;
/** What no floppy holds. */
const LARGEST_FLOPPY = 4 << 20;
const CONTAINER_HEAD = 64;

/**
 * What the route takes beside the bytes. `name` may be a path below the folder that is taken in;
 * `code` makes it a further copy of a medium.
 */
export const IntakeAbout = z.object({
  name: z
    .string()
    .transform((text) => text.slice(-400) || 'unnamed')
    .default('unnamed'),
  code: z.string().max(60).nullable().default(null),
  set: z.string().trim().max(200).default(''),
  number: z.coerce.number().int().min(1).max(9999).nullable().default(null),
  cue: z.string().max(100_000).nullable().default(null),
});
type About = z.output<typeof IntakeAbout>;

interface TakenIn {
  code: string;
  kind: 'capture' | 'image' | 'disc';
}

/** Stores an upload as a medium of its own, or as a further copy. */
export async function takeIn(
  db: Database,
  operatorId: number,
  input: z.input<typeof IntakeAbout>,
  bytes: Uint8Array,
): Promise<TakenIn> {
  const about = IntakeAbout.parse(input);
  const name = sanitizeText(about.name);
  if (bytes.length === 0) throw new UserError(`${name} is empty. Nothing was taken in.`, 422);
  if (beginsAsContainer(bytes) || readContainer(bytes, nodeDigester).readings > 0)
    return db.transaction((tx) => takeInCapture(tx, operatorId, about, bytes));
  await refuseUnknown(memorySource(bytes), name);
  return db.transaction(async (tx) =>
    takeInStored(
      tx,
      operatorId,
      about,
      await storeBlob(tx, bytes).then(({ id, size, sha256 }) => ({
        blobId: id,
        size,
        sha256: sha256!,
      })),
    ),
  );
}

/** The same of a sealed blob of any size, in the caller's transaction. */
export async function takeInBlob(
  tx: Executor,
  operatorId: number,
  input: z.input<typeof IntakeAbout>,
  stored: StoredImage,
): Promise<TakenIn> {
  const about = IntakeAbout.parse(input);
  const source = await blobSource(tx, stored.blobId);
  if (beginsAsContainer(await source.read(0, CONTAINER_HEAD)))
    return takeInCapture(tx, operatorId, about, await readBlob(tx, stored.blobId));
  await refuseUnknown(source, sanitizeText(about.name));
  return takeInStored(tx, operatorId, about, stored);
}

/**
 * Images with a status byte a sector, and cut ones, are no whole number of sectors: then their
 * content decides.
 */
async function refuseUnknown(source: ByteSource, name: string): Promise<void> {
  if (
    source.size % SMALLEST_SECTOR === 0 ||
    (await readIndex(source)) ||
    (await rawDiscOf(source, null)) ||
    (await candidatesOf(source)).length > 0
  )
    return;
  throw new UserError(
    `${name} is neither a flux capture nor a whole number of sectors, and no volume ` +
      `is known in it (${source.size} bytes). Nothing was taken in; if it is packed by ` +
      'another program, unpack it first.',
    422,
  );
}

async function takeInCapture(
  tx: Executor,
  operatorId: number,
  about: About,
  bytes: Uint8Array,
): Promise<TakenIn> {
  const name = sanitizeText(about.name);
  const container = readContainer(bytes, nodeDigester);
  const settled = await settle({
    header: container.header,
    readings: container.tracks,
    problems: container.problems,
    description: { title: name },
    layouts: await allLayouts(tx),
    asMade: new Set(),
  });
  if (!settled)
    throw new UserError(
      `${name} is a flux capture, but no sector of any kind was found in it. Nothing ` +
        `was taken in.${container.problems[0] ? ` ${container.problems[0].message}` : ''}`,
      422,
    );
  const capture = await storeBlob(tx, bytes);
  const medium = await mediumOf(
    tx,
    operatorId,
    about,
    container.header?.form ?? '3.5',
    container.header?.label,
  );
  await storeFairCopy(tx, {
    operatorId,
    mediumId: medium.id,
    source: 'upload',
    sourceName: name,
    image: settled.image,
    settled,
    captureBlob: capture.id,
    problems: container.readings > 0 ? container.problems : [],
  });
  return { code: medium.code, kind: 'capture' };
}

async function takeInStored(
  tx: Executor,
  operatorId: number,
  about: About,
  given: StoredImage,
): Promise<TakenIn> {
  const name = sanitizeText(about.name);
  let stored = given;
  let source = await blobSource(tx, stored.blobId);
  const index = await readIndex(source);
  if (index) {
    // Identity rests on the content, not on how it was packed.
    stored = await storeSource(tx, packedSource(source, index, nodeInflater));
    if (stored.sha256 !== index.sha256)
      throw new UserError(
        `What ${name} unpacks to is not what was packed: its digest differs. Nothing was taken in.`,
        422,
      );
    source = await blobSource(tx, stored.blobId);
  }
  const disc = await rawDiscOf(source, about.cue);
  const medium = await mediumOf(
    tx,
    operatorId,
    about,
    disc ? 'optical-disc' : await formOf(tx, source),
  );
  const copy: Pick<NewFairCopy, 'image' | 'fromBlocks' | 'captureBlob' | 'problems'> = disc
    ? await copyOfRawDisc(tx, source, stored, disc, {
        code: medium.code,
        title: medium.title,
        source: name,
      })
    : { image: stored, captureBlob: null, problems: [] };
  await storeFairCopy(tx, {
    operatorId,
    mediumId: medium.id,
    source: 'upload',
    sourceName: name,
    settled: null,
    analyseTrack: medium.form === 'hard-disk',
    ...copy,
  });
  return { code: medium.code, kind: disc ? 'disc' : 'image' };
}

/**
 * What kind of medium an image came from, by its content and, where that says nothing, its size.
 */
async function formOf(tx: Executor, source: ByteSource): Promise<MediumForm> {
  const { volumes, partitions } = await identifyVolumes(source);
  if (
    volumes.some(
      ({ volume: { filesystem } }) => filesystem.startsWith('iso9660') || filesystem === 'udf',
    )
  )
    return 'optical-disc';
  if (partitions.length > 0) return 'hard-disk';
  const fitting = (await allLayouts(tx)).filter((layout) => bytesOf(layout) === source.size);
  if (fitting.length > 0)
    return fitting.find(({ forms }) => forms.includes('3.5')) ? '3.5' : fitting[0]!.forms[0]!;
  return source.size > LARGEST_FLOPPY ? 'hard-disk' : '3.5';
}

/** The medium that it is a further copy of, or a new one. */
async function mediumOf(
  tx: Executor,
  operatorId: number,
  { name: fileName, code, set: setName, number: setNumber }: About,
  form: MediumForm,
  label?: string,
): Promise<typeof media.$inferSelect> {
  const name = sanitizeText(fileName);
  const [there] = code ? await tx.select().from(media).where(eq(media.code, code)) : [];
  if (code && !there) throw new UserError(`There is no medium ${code}. Nothing was taken in.`, 404);
  if (there) return there;
  // The folders above it are kept with the copy; the title is what the file was called.
  const title = sanitizeText(label || name.split('/').pop()!).slice(0, 200) || 'unnamed';
  const [medium] = await tx
    .insert(media)
    .values({
      code: await drawCode(tx),
      form,
      title,
      labelText: '',
      lender: '',
      lot: '',
      condition: '',
      setName: sanitizeText(setName),
      setNumber: setName ? setNumber : null,
      registeredBy: operatorId,
    })
    .returning();
  if (medium!.setName)
    await tx.insert(sets).values({ name: medium!.setName }).onConflictDoNothing();
  await note(tx, {
    operatorId,
    kind: 'registered',
    mediumId: medium!.id,
    what: `${medium!.code} registered from the file ${name}.`,
  });
  return medium!;
}
