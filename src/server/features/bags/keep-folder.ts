/**
 * A medium that came in a bag of ours, with what is known of it: registered under its own code where
 * that is free, its image graded as it was, its papers beside it, its events told as those of
 * another house.
 */
import { eq } from 'drizzle-orm';
import { readAll } from '@/core/bits/byte-source';
import { NO_RIGHTS_SAID } from '@/core/description/rights';
import { parseLayout } from '@/core/layout/schema';
import type { CopyRecord } from '@/core/parcel/copy-record';
import type { EventRecord } from '@/core/parcel/event-record';
import type { Problem } from '@/core/problems';
import { asWritten, said } from '@/core/said';
import { tell } from '@/messages/tell';
import { storeSource, type StoredImage } from '@/server/platform/blobs/store-source';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { examineCopy, type ExaminedCopy } from '../copies/keeping/examine-copy';
import { storeFairCopy, type NewFairCopy } from '../copies/keeping/fair-copies';
import { describeIn } from '../descriptions/descriptions';
import { findLayout } from '../layouts/layouts';
import { noteMany } from '../ledger/ledger';
import { drawCode } from '../media/codes';
import { registerMediumIn } from '../media/media';
import { NewMedium } from '../media/new-medium';
import { addPaperIn, PAPER_LIMIT, paperOf } from '../media/papers';
import { formerCodes, media } from '../media/tables';
import { changeRightsIn } from '../rights/rights';
import { UNWATCHED } from '../copies/settling/watched-decode';
import { examineFile } from '../intake/intake';
import { isNoImage, sheetFor } from './keep-others';
import {
  copyIn,
  eventsIn,
  imageOf,
  IS_PAPER,
  unknownIn,
  type MediumFolder,
} from './medium-folders';
import { ANY_CODE, descriptionOf, factsOf } from './record-facts';

type CopyToKeep = Omit<NewFairCopy, 'operatorId' | 'mediumId' | 'source' | 'why'>;

/** What is to be kept of a folder, looked through outside of any transaction. */
interface ExaminedFolder {
  given: MediumFolder;
  copy: { toKeep: CopyToKeep; source: CopyRecord['source']; examined: ExaminedCopy } | null;
  events: EventRecord[];
  papers: NonNullable<ReturnType<typeof paperOf>>[];
}

async function storedPart(
  db: Database,
  { files }: MediumFolder,
  name: string | null,
): Promise<StoredImage | null> {
  const source = name === null ? undefined : files.get(name);
  return source ? storeSource(db, source) : null;
}

async function textOfPart({ files }: MediumFolder, name: string | null): Promise<string | null> {
  const source = name === null ? undefined : files.get(name);
  return source ? new TextDecoder().decode(await readAll(source, source.size)) : null;
}

/** How it came out, as the settling of a capture or the reading of blocks would have said it. */
async function cameOut(db: Database, record: CopyRecord, sidecar: string | null) {
  const { tally, inDoubt, surface, blocks } = record;
  const doubts = inDoubt ?? undefined;
  if (blocks && sidecar && doubts)
    return { settled: null, fromBlocks: { kept: blocks, sidecar, inDoubt: doubts } };
  const layout = record.layout === null ? null : parseLayout(record.layout).layout;
  const isProposed = layout !== null && (await findLayout(db, layout.id)) === null;
  const strange = record.strange ?? [];
  return {
    ...{ settled: null, inDoubt: doubts },
    recorded: { ...{ layout, isProposed, sidecar, tally, strange, surface } },
  };
}

const isSameProblem = (a: Problem, b: Problem): boolean =>
  a.kind === b.kind && a.offset === b.offset && a.said.code === b.said.code;

/**
 * An image of whose record nothing can be made: its capture or itself, looked at as any file is; null
 * where that is no image.
 */
async function examinedAlone(
  db: Database,
  given: MediumFolder,
  signal: AbortSignal,
): Promise<ExaminedFolder['copy']> {
  const path = imageOf(given);
  if (path === null) return null;
  const stored = await storeSource(db, given.files.get(path)!);
  const about = { name: path, cue: await sheetFor(path, given.files) };
  try {
    const watch = { ...UNWATCHED, signal };
    const of = factsOf(given.record, { code: ANY_CODE, lot: '' });
    const { copy, examined } = await examineFile(db, about, stored, watch, of);
    return { toKeep: { ...copy, sourceName: path }, source: 'upload', examined };
  } catch (error) {
    if (isNoImage(error)) return null;
    throw error;
  }
}

async function examinedCopy(
  db: Database,
  given: MediumFolder,
  signal: AbortSignal,
): Promise<ExaminedFolder['copy']> {
  const record = await copyIn(given);
  const image = record && (await storedPart(db, given, record.image.name));
  // What is said of another image is not said of this one.
  if (!record || !image || image.sha256 !== record.image.sha256)
    return examinedAlone(db, given, signal);
  const capture = await storedPart(db, given, record.capture);
  const sidecar = await textOfPart(given, record.sidecar);
  const about = { image, ...(await cameOut(db, record, sidecar)) };
  const examined = await examineCopy(db, about);
  const problems = record.problems.filter(
    (problem) => !examined.problems.some((found) => isSameProblem(found, problem)),
  );
  return {
    toKeep: {
      ...{ ...about, problems, captureBlob: capture?.blobId ?? null },
      sourceName: record.sourceName ?? undefined,
    },
    source: record.source,
    examined,
  };
}

/** What may be laid beside it; what may not is left over with the bag. */
async function papersIn({ files }: MediumFolder) {
  const papers: ExaminedFolder['papers'] = [];
  const leftOver: string[] = [];
  for (const [path, source] of files) {
    if (!IS_PAPER.test(path)) continue;
    const name = path.slice(path.indexOf('/') + 1);
    const isShort = source.size <= PAPER_LIMIT;
    const paper = isShort && paperOf(name, await readAll(source, PAPER_LIMIT));
    if (paper) papers.push(paper);
    else leftOver.push(path);
  }
  return { papers, leftOver };
}

/** Paths in the bag of what became nothing of the medium. */
export async function leftOverOf(given: MediumFolder): Promise<string[]> {
  const { leftOver } = await papersIn(given);
  return [...leftOver, ...(await unknownIn(given))].map((path) => `${given.folder}/${path}`);
}

export async function examineFolder(
  db: Database,
  given: MediumFolder,
  signal: AbortSignal,
): Promise<ExaminedFolder> {
  return {
    given,
    copy: await examinedCopy(db, given, signal),
    events: await eventsIn(given),
    papers: (await papersIn(given)).papers,
  };
}

async function isTaken(tx: Executor, code: string): Promise<boolean> {
  const [there] = await tx.select({ id: media.id }).from(media).where(eq(media.code, code));
  const [former] = await tx
    .select({ code: formerCodes.code })
    .from(formerCodes)
    .where(eq(formerCodes.code, code));
  return Boolean(there ?? former);
}

/** Under its own code, or another that is drawn where that is taken or can be none here. */
async function registered(
  tx: Executor,
  operatorId: number,
  record: MediumFolder['record'],
  lot: string,
) {
  const known = NewMedium.shape.code.safeParse(record.code);
  const own = known.success && !(await isTaken(tx, known.data)) ? known.data : null;
  const code = own ?? (await drawCode(tx, lot || record.lot));
  return registerMediumIn(tx, operatorId, factsOf(record, { code, lot }));
}

async function sayOfIt(
  tx: Executor,
  operatorId: number,
  code: string,
  record: MediumFolder['record'],
): Promise<void> {
  await describeIn(tx, operatorId, 'media', code, descriptionOf(record));
  if (record.rights)
    await changeRightsIn(tx, operatorId, 'media', code, { ...NO_RIGHTS_SAID, ...record.rights });
}

/** A statement takes only so many parameters. */
const EVENTS_AT_ONCE = 2000;

/** An event whose code nobody knows here is told in the words it came with. */
const elsewhere = ({ at, who, kind, what, told }: EventRecord) =>
  said('bags.elsewhere', {
    ...{ at, who, kind },
    what: tell(what) === what.code ? asWritten(sanitizeText(told)) : what,
  });

interface KeptFrom {
  operatorId: number;
  /** What the bag was called. */
  bag: string;
  /** Where it is to be another than the record says. */
  lot: string;
}

/** Answers with its number and its code here. */
export async function keepFolder(
  tx: Executor,
  { given, copy, events, papers }: ExaminedFolder,
  { operatorId, bag, lot }: KeptFrom,
): Promise<{ id: number; code: string }> {
  const { record, folder } = given;
  const { id: mediumId, code } = await registered(tx, operatorId, record, lot);
  await sayOfIt(tx, operatorId, code, record);
  for (const paper of papers) await addPaperIn(tx, operatorId, { code }, paper);
  for (let at = 0; at < events.length; at += EVENTS_AT_ONCE) {
    const some = events.slice(at, at + EVENTS_AT_ONCE).map(elsewhere);
    await noteMany(
      tx,
      some.map((what) => ({ operatorId, kind: 'elsewhere', mediumId, what })),
    );
  }
  const why = said('bags.cameIn', { bag, folder, was: record.code });
  if (copy) {
    const { toKeep, source, examined } = copy;
    await storeFairCopy(tx, { ...toKeep, operatorId, mediumId, source, why }, examined);
  }
  return { id: mediumId, code };
}
