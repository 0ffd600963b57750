/**
 * Taking in files that exist already: images and flux captures, packed or not, known by their
 * content.
 */
import { eq } from 'drizzle-orm';
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
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import { storeSource, type StoredImage } from '@/server/platform/blobs/store-source';
import type { Database, Executor } from '@/server/platform/db/database';
import { lots, media } from '../media/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError } from '@/server/platform/errors';
import { looksRaw } from '@/core/optical/aligned-source';
import { copyOfRawDisc, rawDiscOf } from '../copies/keeping/disc-images';
import { examineCopy, type ExaminedCopy } from '../copies/keeping/examine-copy';
import { storeFairCopy, type NewFairCopy } from '../copies/keeping/fair-copies';
import { settle } from '../copies/settling/settle-readings';
import { UNWATCHED, type SettlingWatch } from '../copies/settling/watched-decode';
import { drawCode } from '../media/codes';
import { refuseWithdrawn } from '../media/in-use';
import { findByCode, heldMedium, keepNamed } from '../media/media';
import { allLayouts } from '../layouts/layouts';
import type { FileKind } from '@/server/states';
import { note } from '../ledger/ledger';
import { said } from '@/core/said';

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
  /** From whom a medium of its own comes, and in which lot. */
  lender: z.string().trim().max(200).default(''),
  lot: z.string().trim().max(80).default(''),
});
type About = z.output<typeof IntakeAbout>;

interface TakenIn {
  code: string;
  kind: FileKind;
}

/** A file looked through, and what it is to be kept as; nothing is registered yet. */
interface ExaminedFile {
  kind: TakenIn['kind'];
  name: string;
  medium: MediumRow | NewMedium;
  copy: Omit<NewFairCopy, 'operatorId' | 'mediumId' | 'source' | 'sourceName'>;
  examined: ExaminedCopy;
}

type MediumRow = typeof media.$inferSelect;
type NewMedium = Pick<
  MediumRow,
  'code' | 'form' | 'title' | 'setName' | 'setNumber' | 'lender' | 'lot'
>;

/** Takes in bytes at once, as a medium of its own or a further copy; the worker takes in uploads. */
export async function takeIn(
  db: Database,
  operatorId: number,
  input: z.input<typeof IntakeAbout>,
  bytes: Uint8Array,
): Promise<TakenIn> {
  const stored = await storeSource(db, memorySource(bytes));
  const file = await examineFile(db, input, stored);
  return db.transaction((tx) => keepFile(tx, operatorId, file));
}

/**
 * Looks through a sealed file of any size, outside of any transaction. `of` is the medium that it is
 * of where that is still to be registered, and no code is to be drawn for it.
 */
export async function examineFile(
  db: Database,
  input: z.input<typeof IntakeAbout>,
  stored: StoredImage,
  watch: SettlingWatch = UNWATCHED,
  of: NewMedium | null = null,
): Promise<ExaminedFile> {
  const about = IntakeAbout.parse(input);
  const name = sanitizeText(about.name);
  if (stored.size === 0) throw new UserError(said('intake.isEmptyNothingWas', { name }), 422);
  const existing = of ?? (await existingMedium(db, about.code));
  const source = await blobSource(db, stored.blobId);
  const settled = await settledCapture(db, name, source, stored, watch);
  const found = settled
    ? await captureToKeep(db, about, existing, stored, settled)
    : await imageToKeep(db, about, existing, stored, source);
  return { ...found, name, examined: await examineCopy(db, found.copy) };
}

/** Registers a file's medium where it is a new one, and keeps its copy. */
export async function keepFile(
  tx: Executor,
  operatorId: number,
  { kind, name, medium, copy, examined }: ExaminedFile,
): Promise<TakenIn> {
  const { id: mediumId, code } =
    'id' in medium
      ? await stillInUse(tx, medium)
      : await registerFromFile(tx, operatorId, medium, name);
  await storeFairCopy(
    tx,
    { ...copy, operatorId, mediumId, source: 'upload', sourceName: name },
    examined,
  );
  return { code, kind };
}

/** Looking through it took long: it may be one with another by now, or withdrawn. */
async function stillInUse(tx: Executor, { code }: MediumRow): Promise<MediumRow> {
  const medium = await heldMedium(tx, code);
  refuseWithdrawn(medium);
  return medium;
}

/**
 * Images with a status byte a sector, and cut ones, are no whole number of sectors: then their
 * content decides.
 */
async function refuseUnknown(source: ByteSource, name: string): Promise<void> {
  if (
    source.size % SMALLEST_SECTOR === 0 ||
    (await readIndex(source)) ||
    (await looksRaw(source)) ||
    (await candidatesOf(source)).length > 0
  )
    return;
  throw new UserError(said('intake.isNeitherAFlux', { name, source: source.size }), 422);
}

type ToKeep = Omit<ExaminedFile, 'examined' | 'name'>;

/** A flux capture's container with what it settled into; null where it is no capture. */
async function settledCapture(
  db: Database,
  name: string,
  source: ByteSource,
  stored: StoredImage,
  watch: SettlingWatch,
) {
  const isNamed = beginsAsContainer(await source.read(0, CONTAINER_HEAD));
  if (!isNamed && stored.size > INTAKE_LIMIT) return null;
  const container = readContainer(await readBlob(db, stored.blobId), nodeDigester);
  // One whose head is gone may still hold whole readings.
  if (!isNamed && container.readings === 0) return null;
  const settled = await settle({
    header: container.header,
    readings: container.tracks,
    problems: container.problems,
    description: { title: name },
    layouts: await allLayouts(db),
    asMade: new Set(),
    watch,
  });
  if (settled) return { container, settled };
  throw new UserError(
    said('intake.isAFluxCapture', {
      name,
      problem: container.problems[0]?.said ?? null,
    }),
    422,
  );
}

async function captureToKeep(
  db: Database,
  about: About,
  existing: MediumRow | NewMedium | null,
  stored: StoredImage,
  { container, settled }: NonNullable<Awaited<ReturnType<typeof settledCapture>>>,
): Promise<ToKeep> {
  const { header, problems, readings } = container;
  return {
    kind: 'capture',
    medium: existing ?? (await newMedium(db, about, header?.form ?? '3.5', header?.label)),
    copy: {
      image: settled.image,
      settled,
      captureBlob: stored.blobId,
      problems: readings > 0 ? problems : [],
    },
  };
}

async function imageToKeep(
  db: Database,
  about: About,
  existing: MediumRow | NewMedium | null,
  given: StoredImage,
  givenSource: ByteSource,
): Promise<ToKeep> {
  const name = sanitizeText(about.name);
  const stored = await unpacked(db, name, given, givenSource);
  const source = await blobSource(db, stored.blobId);
  const disc = await rawDiscOf(source, about.cue);
  // What a sheet says is a disc is one, though it hold nothing but sound.
  if (!disc) await refuseUnknown(givenSource, name);
  const form = disc ? 'optical-disc' : await formOf(db, source);
  const medium = existing ?? (await newMedium(db, about, form));
  const analyseTrack = medium.form === 'hard-disk';
  if (!disc)
    return {
      kind: 'image',
      medium,
      copy: { image: stored, settled: null, analyseTrack, captureBlob: null, problems: [] },
    };
  const { code, title } = medium;
  const copy = await copyOfRawDisc(db, stored, disc, { code, title, source: name });
  return { kind: 'disc', medium, copy: { settled: null, analyseTrack, ...copy } };
}

/** Identity rests on the content, not on how it was packed. */
async function unpacked(
  db: Database,
  name: string,
  given: StoredImage,
  source: ByteSource,
): Promise<StoredImage> {
  const index = await readIndex(source);
  if (!index) return given;
  const stored = await storeSource(db, packedSource(source, index, nodeInflater));
  if (stored.sha256 === index.sha256) return stored;
  throw new UserError(said('intake.whatUnpacksToIs', { name }), 422);
}

/**
 * What kind of medium an image came from, by its content and, where that says nothing, its size.
 */
async function formOf(db: Database, source: ByteSource): Promise<MediumForm> {
  const { volumes, partitions } = await identifyVolumes(source);
  if (
    volumes.some(
      ({ volume: { filesystem } }) => filesystem.startsWith('iso9660') || filesystem === 'udf',
    )
  )
    return 'optical-disc';
  if (partitions.length > 0) return 'hard-disk';
  const fitting = (await allLayouts(db)).filter((layout) => bytesOf(layout) === source.size);
  if (fitting.length > 0)
    return fitting.find(({ forms }) => forms.includes('3.5')) ? '3.5' : fitting[0]!.forms[0]!;
  return source.size > LARGEST_FLOPPY ? 'hard-disk' : '3.5';
}

/** The medium that it is a further copy of. */
async function existingMedium(db: Database, code: string | null): Promise<MediumRow | null> {
  if (!code) return null;
  const there = await findByCode(db, code);
  if (!there) throw new UserError(said('intake.thereIsNoMedium', { code }), 404);
  refuseWithdrawn(there);
  return there;
}

/** A medium of its own; its code is drawn at once, so that nobody waits for this file. */
async function newMedium(
  db: Database,
  about: About,
  form: MediumForm,
  label?: string,
): Promise<NewMedium> {
  // The folders above it are kept with the copy; the title is what the file was called.
  const title = sanitizeText(label || about.name.split('/').pop()!).slice(0, 200) || 'unnamed';
  const setName = sanitizeText(about.set);
  const lot = sanitizeText(about.lot);
  return {
    ...{ code: await drawCode(db, lot), form, title },
    ...{ setName, setNumber: setName ? about.number : null },
    lender: sanitizeText(about.lender) || (await lenderOf(db, lot)),
    lot,
  };
}

/** A lot that is known says from whom it came. */
async function lenderOf(db: Database, lot: string): Promise<string> {
  if (lot === '') return '';
  const [there] = await db.select({ lender: lots.lender }).from(lots).where(eq(lots.name, lot));
  return there?.lender ?? '';
}

async function registerFromFile(
  tx: Executor,
  operatorId: number,
  medium: NewMedium,
  name: string,
): Promise<MediumRow> {
  const [row] = await tx
    .insert(media)
    .values({
      ...medium,
      labelText: '',
      condition: '',
      registeredBy: operatorId,
    })
    .returning();
  await keepNamed(tx, [medium]);
  await note(tx, {
    operatorId,
    kind: 'registered',
    mediumId: row!.id,
    what: said('intake.registeredFromTheFile', { code: medium.code, name }),
  });
  return row!;
}
