/**
 * Takes in a bag that came as an upload: checked whole first, then medium by medium, each in a
 * transaction of its own, so that what breaks off goes on from there.
 */
import { eq, sql } from 'drizzle-orm';
import type { BagInfo } from '@/core/parcel/bag-reading';
import { said, type Said } from '@/core/said';
import { dropGrowing, sealBlob } from '@/server/platform/blobs/blob-store';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { StoredImage } from '@/server/platform/blobs/store-source';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { describeIn } from '../descriptions/descriptions';
import { DescriptionChange } from '../descriptions/new-description';
import { keepFile } from '../intake/intake';
import { uploads } from '../intake/tables';
import { findByCode, keepNamed } from '../media/media';
import { addPaperIn } from '../media/papers';
import { bagFilesIn, type BagFiles } from './bag-files';
import { checkBag, type CheckedBag } from './check-bag';
import { examineFolder, keepFolder, leftOverOf } from './keep-folder';
import { examineOther } from './keep-others';
import { imageOf, mediumFoldersIn, type MediumFolder } from './medium-folders';
import { ANY_CODE, descriptionOf, factsOf } from './record-facts';
import { cameBags, cameMedia } from './tables';

interface CameAs {
  uploadNumber: number;
  name: string;
  operatorId: number;
  /** As was said when it was sent; empty where nothing was. */
  lender: string;
  lot: string;
}

interface BagJob {
  db: Database;
  signal: AbortSignal;
  commit<T>(work: (tx: Executor) => Promise<T>): Promise<T>;
  /** What it is at. */
  tell(now: Said): Promise<void>;
  /** In the transaction that ends it: the upload is done, and holds its bytes no more. */
  ended(tx: Executor, taken: TakenBag): Promise<void>;
}

interface TakenBag {
  media: number;
  lot: string;
}

type Row = typeof cameBags.$inferSelect;

/** Percents are told, and not every megabyte. */
function progressOf({ signal, tell }: BagJob) {
  let before = -1;
  return {
    signal,
    async tell(done: number, of: number) {
      const percent = Math.floor((100 * done) / Math.max(1, of));
      if (percent === before) return;
      before = percent;
      await tell(said('bags.checked', { percent }));
    },
  };
}

const saidIn = (info: readonly BagInfo[], label: string): string =>
  sanitizeText(info.find((each) => each.label.toLowerCase() === label)?.value ?? '');

/** The lot of what is of no medium: as was asked, or as the bag calls itself. */
function lotOf({ lot }: CameAs, info: readonly BagInfo[], { folder }: BagFiles): string {
  const itself = saidIn(info, 'external-identifier') || sanitizeText(folder);
  return (lot || itself || 'bag').slice(0, 80);
}

/** The same bag that came before: one that is taken in is refused, one that broke off goes on. */
async function brokenOff(
  tx: Executor,
  came: CameAs,
  manifestSha256: string,
): Promise<number | null> {
  const [twin] = await tx
    .select()
    .from(cameBags)
    .where(eq(cameBags.manifestSha256, manifestSha256))
    .for('update');
  if (!twin || twin.uploadNumber === came.uploadNumber) return twin?.id ?? null;
  const [upload] = await tx.select().from(uploads).where(eq(uploads.number, twin.uploadNumber));
  const isUnderWay = upload?.state === 'waiting' || upload?.state === 'taking-in';
  if (twin.endedAt || isUnderWay)
    throw new UserError(said('bags.isHereAlready', { name: came.name, before: twin.name }), 409);
  return twin.id;
}

const begin = ({ commit }: BagJob, came: CameAs, checked: CheckedBag, lot: string): Promise<Row> =>
  commit(async (tx) => {
    const { uploadNumber, name, operatorId: takenInBy } = came;
    const { manifestSha256, payload, info } = checked;
    // The same bag may come twice at a time.
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${manifestSha256}))`);
    const before = await brokenOff(tx, came, manifestSha256);
    if (before !== null) {
      const goesOn = tx.update(cameBags).set({ uploadNumber }).where(eq(cameBags.id, before));
      return (await goesOn.returning())[0]!;
    }
    const bytes = [...payload.values()].reduce((sum, { size }) => sum + size, 0);
    const [row] = await tx
      .insert(cameBags)
      .values({
        ...{ uploadNumber, name, takenInBy, lot, leftOver: [] },
        ...{ manifestSha256, files: payload.size, bytes },
        info: info.map(({ label, value }) => ({
          ...{ label: sanitizeText(label), value: sanitizeText(value) },
        })),
      })
      .returning();
    return row!;
  });

async function takenBefore(db: Database, bagId: number): Promise<Set<string>> {
  const rows = await db.select().from(cameMedia).where(eq(cameMedia.bagId, bagId));
  return new Set(rows.map(({ path }) => path));
}

/** Answers with the paths of what became nothing of any of them. */
async function takeFolders(
  job: BagJob,
  came: CameAs,
  row: Row,
  folders: readonly MediumFolder[],
): Promise<string[]> {
  const before = await takenBefore(job.db, row.id);
  const leftOver: string[] = [];
  for (const [i, given] of folders.entries()) {
    leftOver.push(...(await leftOverOf(given)));
    if (before.has(given.folder)) continue;
    job.signal.throwIfAborted();
    await job.tell(said('bags.takingIn', { done: i, of: folders.length }));
    const examined = await examineFolder(job.db, given, job.signal);
    const image = imageOf(given);
    if (!examined.copy && image) leftOver.push(`${given.folder}/${image}`);
    await job.commit(async (tx) => {
      const { operatorId, name: bag, lot } = came;
      const { id: mediumId } = await keepFolder(tx, examined, { operatorId, bag, lot });
      await tx.insert(cameMedia).values({ bagId: row.id, path: given.folder, mediumId });
      await announce(tx, { kind: 'media' });
    });
  }
  return leftOver;
}

/** Answers with the paths of what is neither a medium nor a paper. */
async function takeOthers(
  job: BagJob,
  came: CameAs,
  row: Row,
  others: CheckedBag['payload'],
): Promise<string[]> {
  const before = await takenBefore(job.db, row.id);
  const leftOver: string[] = [];
  const { operatorId, lender } = came;
  const { lot } = row;
  for (const path of [...others.keys()].sort()) {
    if (before.has(path)) continue;
    job.signal.throwIfAborted();
    const about = { lender, lot, signal: job.signal };
    const examined = await examineOther(job.db, path, others, about);
    if (examined.kind === 'neither') leftOver.push(path);
    if (examined.kind === 'paper')
      await job.commit(async (tx) => {
        await keepNamed(tx, [{ lender, lot, setName: '' }]);
        await addPaperIn(tx, operatorId, { lot }, examined.paper);
      });
    if (examined.kind === 'medium')
      await job.commit(async (tx) => {
        const { code } = await keepFile(tx, operatorId, examined.file);
        const medium = await findByCode(tx, code);
        await tx.insert(cameMedia).values({ bagId: row.id, path, mediumId: medium!.id });
      });
  }
  return leftOver;
}

/** What a bag of another house says of itself is said of the lot. */
async function describeLot(tx: Executor, came: CameAs, { lot, info }: Row): Promise<void> {
  const sender = saidIn(info, 'source-organization') || saidIn(info, 'contact-name');
  const words = [saidIn(info, 'external-description'), saidIn(info, 'internal-sender-description')];
  const change = DescriptionChange.safeParse({
    elements: {
      description: words.filter(Boolean),
      identifier: [saidIn(info, 'external-identifier')].filter(Boolean),
    },
    acquisition: {
      from: sender.slice(0, 200),
      on: '',
      how: 'transfer',
      notes: '',
      agreement: null,
    },
  });
  if (change.success) await describeIn(tx, came.operatorId, 'lots', lot, change.data);
}

/** False of what is no bag. Throws UserError, 4xx, of one that is not taken in. */
export async function takeInBag(job: BagJob, stored: StoredImage, came: CameAs): Promise<boolean> {
  const bag = await bagFilesIn(await blobSource(job.db, stored.blobId));
  if (!bag) return false;
  const checked = await checkBag(came.name, bag, progressOf(job));
  const { folders, others } = await mediumFoldersIn(checked.payload);
  // What comes from us says itself of which lot it is.
  const needsLot = folders.length === 0 || others.size > 0;
  const lot = needsLot ? lotOf(came, checked.info, bag) : came.lot;
  // Before any of them is kept.
  for (const { record } of folders) {
    factsOf(record, { code: ANY_CODE, lot: came.lot });
    descriptionOf(record);
  }
  const row = await begin(job, came, checked, lot);
  const leftInFolders = await takeFolders(job, came, row, folders);
  const rest = new Map([...others, ...(folders.length > 0 ? [] : checked.tags)]);
  const neither = await takeOthers(job, came, row, rest);
  const leftOver = [...leftInFolders, ...neither];
  await job.commit(async (tx) => {
    const kept = await tx.select().from(cameMedia).where(eq(cameMedia.bagId, row.id));
    // There is such a lot where something of the bag is in it.
    if (folders.length === 0 && neither.length < rest.size) await describeLot(tx, came, row);
    await job.ended(tx, { media: kept.length, lot: row.lot });
    if (leftOver.length > 0) await sealBlob(tx, stored.blobId, stored.sha256);
    else await dropGrowing(tx, stored.blobId);
    await tx
      .update(cameBags)
      .set({
        ...{ endedAt: new Date(), leftOver: leftOver.map(sanitizeText) },
        blobId: leftOver.length > 0 ? stored.blobId : null,
      })
      .where(eq(cameBags.id, row.id));
    await announce(tx, { kind: 'parcels' });
  });
  return true;
}
