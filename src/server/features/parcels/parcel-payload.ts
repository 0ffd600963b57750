/**
 * What a parcel holds of a medium, file by file, each with its length before its bytes: its image,
 * capture, sidecar, sound and sheet, papers, certificates and files, and then what is told of it.
 */
import { eq } from 'drizzle-orm';
import { dublinCore } from '@/core/description/dublin-core';
import { fileNameOfCode } from '@/core/medium-code';
import { premisOf } from '@/core/parcel/premis';
import { safeName } from '@/core/volume/safe-name';
import type { UniqueNames } from '@/core/volume/unique-names';
import type { Database } from '@/server/platform/db/database';
import { nameOfDownload } from '@/server/platform/http/respond';
import { rawTracksOf } from '../copies/disc-parts';
import { copyPart } from '../copies/downloads';
import { filesOfCopy } from '../copies/files-of-copy';
import { latestFairCopy } from '../copies/queries';
import type { fairCopies } from '../copies/tables';
import { thingOfMedium } from '../descriptions/dublin-core-record';
import { mediumRecord } from '../descriptions/medium-record';
import { papersOf, streamPaper } from '../media/papers';
import type { media } from '../media/tables';
import { certificateDownload } from '../writebacks/certificates';
import { certificates, writebacks } from '../writebacks/tables';
import { copyRecordOf } from './copy-record-of';
import { eventsFile, eventsOfMedium } from './medium-events';
import { oneOf, type PayloadFile, type Sent } from './payload-file';
import { premisRecordOf } from './premis-record';
import type { parcels } from './tables';

type Medium = typeof media.$inferSelect;
type Copy = typeof fairCopies.$inferSelect;
type Parcel = typeof parcels.$inferSelect;

async function* ofBody(body: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
    }
  } finally {
    await reader.cancel();
  }
}

/** What an answer would be saved as, in a folder. */
function fromAnswer(answer: Response, folder: string, names: UniqueNames): PayloadFile {
  return {
    path: names.pathOf(`${folder}/${nameOfDownload(answer)}`),
    bytes: Number(answer.headers.get('content-length')),
    type: (answer.headers.get('content-type') ?? 'application/octet-stream').split(';')[0]!,
    stream: () => ofBody(answer.body!),
  };
}

const ofText = (path: string, text: string, type: string): PayloadFile => {
  const bytes = new TextEncoder().encode(text);
  return { path, bytes: bytes.length, type, stream: () => oneOf(bytes) };
};

/** Which parts of a copy there are, with what each is asked for by. */
function partsOf(copy: Copy, { withFlux }: Parcel) {
  const tracks = rawTracksOf(copy);
  return [
    ['image', {}] as const,
    ...(copy.sidecarBlob ? [['sidecar', {}] as const] : []),
    ...(withFlux && copy.captureBlob ? [['capture', {}] as const] : []),
    ...(withFlux && tracks.length > 0 ? [['cue', {}] as const] : []),
    ...tracks
      .filter(({ type }) => type === 'AUDIO')
      .map(({ number }) => ['sound', { track: number }] as const),
  ];
}

interface InFolder {
  db: Database;
  parcel: Parcel;
  /** The folder of the medium. */
  folder: string;
  names: UniqueNames;
}

async function* copyFiles(copy: Copy, { db, parcel, folder, names }: InFolder) {
  const { acknowledgesQuarantine } = parcel;
  for (const [part, wanted] of partsOf(copy, parcel)) {
    const answer = await copyPart(db, copy.id, part, { ...wanted, acknowledgesQuarantine });
    const file = fromAnswer(answer, folder, names);
    yield part === 'cue' || part === 'sound' ? file : { ...file, part };
  }
}

/** Read twice: its length is known only behind it. */
async function* volumeFiles(copy: Copy, code: string, { db, folder, names }: InFolder) {
  const { members } = await filesOfCopy(db, copy, code, { prefix: `${folder}/files/` }, names);
  const lengths: number[] = [];
  for await (const { bytes } of members()) {
    let length = 0;
    for await (const part of bytes) length += part.length;
    lengths.push(length);
  }
  let at = 0;
  for await (const { name, bytes } of members())
    yield {
      path: name,
      bytes: lengths[at++]!,
      type: 'application/octet-stream',
      stream: async function* () {
        yield* bytes;
      },
    } satisfies PayloadFile;
}

async function* papersIn(medium: Medium, { db, folder, names }: InFolder) {
  const papers = await papersOf(db, { mediumId: medium.id, setName: medium.setName });
  for (const { id, name, type, bytes } of papers)
    yield {
      path: names.pathOf(`${folder}/papers/${safeName(name)}`),
      ...{ bytes, type, stream: () => streamPaper(db, id) },
    } satisfies PayloadFile;
}

async function* certificatesOf(copy: Copy, { db, folder, names }: InFolder) {
  const sealed = await db
    .selectDistinct({ id: certificates.writebackId })
    .from(certificates)
    .innerJoin(writebacks, eq(writebacks.id, certificates.writebackId))
    .where(eq(writebacks.fairCopyId, copy.id))
    .orderBy(certificates.writebackId);
  for (const { id } of sealed)
    for (const as of ['pdf', 'json'] as const)
      yield fromAnswer(await certificateDownload(db, id, as), `${folder}/certificates`, names);
}

async function* bytesOf(
  medium: Medium,
  copy: Copy | null,
  within: InFolder,
): AsyncGenerator<PayloadFile> {
  if (copy) yield* copyFiles(copy, within);
  if (copy && within.parcel.withFiles) yield* volumeFiles(copy, medium.code, within);
  yield* papersIn(medium, within);
  if (copy) yield* certificatesOf(copy, within);
}

/**
 * The files of a medium; each is taken once the one before has gone, and is answered with what went.
 */
export async function* filesOfMedium(
  db: Database,
  parcel: Parcel,
  medium: Medium,
  names: UniqueNames,
): AsyncGenerator<PayloadFile, void, Sent> {
  const folder = names.folderOf(fileNameOfCode(medium.code));
  const copy = await latestFairCopy(db, medium.id);
  const sent: Sent[] = [];
  for await (const file of bytesOf(medium, copy, { db, parcel, folder, names }))
    sent.push(yield file);
  const events = await eventsOfMedium(db, medium.id);
  const told = (name: string) => names.pathOf(`${folder}/${name}`);
  const ofJson = (name: string, value: unknown) =>
    ofText(told(name), `${JSON.stringify(value, null, 1)}\n`, 'application/json');
  sent.push(yield ofJson('record.json', await mediumRecord(db, medium)));
  if (copy) sent.push(yield ofJson('copy.json', await copyRecordOf(db, copy, sent)));
  sent.push(yield ofJson('events.json', eventsFile(events)));
  const core = dublinCore(await thingOfMedium(db, medium));
  sent.push(yield ofText(told('dublin-core.xml'), core, 'application/xml'));
  const premis = premisOf(await premisRecordOf(db, medium, events, sent));
  yield ofText(told('premis.xml'), premis, 'application/xml');
}
