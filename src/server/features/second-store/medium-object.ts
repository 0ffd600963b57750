/**
 * A medium in the second store: its images, captures, sidecars, papers, certificates and what is
 * known of it, as files that anybody can read; and its rows, from which a house is restored.
 */
import { asc, eq } from 'drizzle-orm';
import { dublinCore } from '@/core/description/dublin-core';
import { isRawDisc } from '@/core/block/device';
import { fileNameOfCode } from '@/core/medium-code';
import type { StateFile } from '@/core/ocfl/inventory';
import { premisOf } from '@/core/parcel/premis';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { imageName } from '../copies/image-of-copy';
import { fairCopies } from '../copies/tables';
import { thingOfMedium } from '../descriptions/dublin-core-record';
import { mediumRecord } from '../descriptions/medium-record';
import { attachments, type media } from '../media/tables';
import { copyRecordOf } from '../parcels/copy-record-of';
import { eventsFile, eventsOfMedium } from '../parcels/medium-events';
import type { Sent } from '../parcels/payload-file';
import { premisRecordOf } from '../parcels/premis-record';
import { receiptMedia, receipts } from '../receipts/tables';
import { sittings } from '../sittings/tables';
import { certificates, writebacks } from '../writebacks/tables';
import type { DraftVersion } from './draft-version';

type Medium = typeof media.$inferSelect;
type Copy = typeof fairCopies.$inferSelect;

/** What lies in the draft already, as parcels tell of it. */
class Kept {
  readonly sent: Sent[] = [];
  readonly blobs = new Set<string>();

  constructor(
    private readonly db: Database,
    private readonly draft: DraftVersion,
  ) {}

  private tell({ path, sha256, sha512 }: StateFile, bytes: number, part?: Sent['part']): void {
    const type = path.endsWith('.json') ? 'application/json' : 'application/octet-stream';
    this.sent.push({ path, bytes, digests: { sha256, sha512 }, type, part });
  }

  /** Throws where the blob is damaged. */
  async blob(id: string, path: string, part?: Sent['part']): Promise<void> {
    const { size, sha256 } = await blobOf(this.db, id);
    this.blobs.add(id);
    const stream = () => streamBlob(this.db, id);
    this.tell(await this.draft.add({ path, stream, sha256: sha256! }), size, part);
  }

  async text(path: string, text: string): Promise<void> {
    this.tell(await this.draft.addText(path, text), new TextEncoder().encode(text).length);
  }

  json(path: string, value: unknown): Promise<void> {
    return this.text(path, `${JSON.stringify(value, null, 1)}\n`);
  }
}

async function addCopy(db: Database, kept: Kept, folder: string, copy: Copy, medium: Medium) {
  const name = fileNameOfCode(medium.code);
  const first = kept.sent.length;
  await kept.blob(copy.imageBlob, `${folder}/${imageName(medium.code, medium.form)}`, 'image');
  if (copy.sidecarBlob)
    await kept.blob(copy.sidecarBlob, `${folder}/${name}.sidecar.json`, 'sidecar');
  if (copy.captureBlob) {
    const ending = copy.blocks?.tracks.length ? 'bin' : 'fsflux';
    await kept.blob(copy.captureBlob, `${folder}/${name}.${ending}`, 'capture');
  }
  const own = kept.sent.slice(first);
  await kept.json(`${folder}/copy.json`, await copyRecordOf(db, copy, own));
}

async function addSittings(db: Database, kept: Kept, mediumId: number): Promise<void> {
  const rows = await db
    .select()
    .from(sittings)
    .where(eq(sittings.mediumId, mediumId))
    .orderBy(asc(sittings.id));
  for (const { id, captureBlob, device } of rows) {
    if (!captureBlob || kept.blobs.has(captureBlob)) continue;
    const ending = device ? (isRawDisc(device) ? 'bin' : 'img') : 'fsflux';
    await kept.blob(captureBlob, `sittings/${id}.${ending}`);
  }
}

async function addPapers(db: Database, kept: Kept, mediumId: number): Promise<void> {
  const rows = await db
    .select()
    .from(attachments)
    .where(eq(attachments.mediumId, mediumId))
    .orderBy(asc(attachments.id));
  for (const { name, blobId } of rows)
    await kept.blob(blobId, `papers/${name.replaceAll('/', '_')}`);
}

async function addCertificates(db: Database, draft: DraftVersion, mediumId: number) {
  const rows = await db
    .select({ sealed: certificates })
    .from(certificates)
    .innerJoin(writebacks, eq(writebacks.id, certificates.writebackId))
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .where(eq(fairCopies.mediumId, mediumId))
    .orderBy(asc(certificates.writebackId), asc(certificates.edition));
  for (const { sealed } of rows)
    for (const as of ['pdf', 'json'] as const)
      await draft.add({
        path: `certificates/writeback-${sealed.writebackId}-${sealed.edition}.${as}`,
        stream: async function* () {
          yield sealed[as];
        },
      });
}

async function addReceipts(db: Database, kept: Kept, mediumId: number): Promise<void> {
  const rows = await db
    .select({ id: receipts.id, blobId: receipts.blobId })
    .from(receiptMedia)
    .innerJoin(receipts, eq(receipts.id, receiptMedia.receiptId))
    .where(eq(receiptMedia.mediumId, mediumId))
    .orderBy(asc(receipts.id));
  for (const { id, blobId } of rows) await kept.blob(blobId, `receipts/receipt-${id}.pdf`);
}

/** Everything of a medium but its rows. */
export async function addMedium(db: Database, draft: DraftVersion, medium: Medium): Promise<void> {
  const kept = new Kept(db, draft);
  const copies = await db
    .select()
    .from(fairCopies)
    .where(eq(fairCopies.mediumId, medium.id))
    .orderBy(asc(fairCopies.id));
  for (const [i, copy] of copies.entries())
    await addCopy(db, kept, `copies/${i + 1}`, copy, medium);
  await addSittings(db, kept, medium.id);
  await addPapers(db, kept, medium.id);
  await addCertificates(db, draft, medium.id);
  await addReceipts(db, kept, medium.id);
  const events = await eventsOfMedium(db, medium.id);
  await kept.json('record.json', await mediumRecord(db, medium));
  await kept.json('events.json', eventsFile(events));
  await kept.text('dublin-core.xml', dublinCore(await thingOfMedium(db, medium)));
  await draft.addText('premis.xml', premisOf(await premisRecordOf(db, medium, events, kept.sent)));
}
