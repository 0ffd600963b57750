/** Taking in files that exist already: flat images and flux captures, known by their content. */
import { eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { memorySource } from '@/core/bits/byte-source';
import { candidatesOf } from '@/core/identify/identify';
import { readContainer } from '@/core/flux/container-reader';
import { beginsAsContainer, type FormFactor } from '@/core/flux/container';
import { nodeDigester } from '@/node/digester';
import { storeBlob } from '../blobs/blob-store';
import type { Database } from '../db/database';
import { media, sets } from '../db/schema';
import { storable } from '../db/storable';
import { UserError } from '../errors';
import { settle, storeFairCopy } from './fair-copies';
import { nextCode } from './media';
import { allLayouts } from './layouts';
import { note } from './ledger';

/** Most bytes of one file taken in through the page; larger ones come with parts in a later version. */
export const INTAKE_LIMIT = 64 * 1024 * 1024;
const SMALLEST_SECTOR = 128;

/** What the route takes beside the bytes. `name` may be a path below the folder that is taken in; `code` makes it a further copy of a medium. */
export const IntakeAbout = z.object({
  name: z.string().transform((text) => text.slice(-400) || 'unnamed').default('unnamed'), code: z.string().max(60).nullable().default(null),
  set: z.string().trim().max(200).default(''), number: z.coerce.number().int().min(1).max(9999).nullable().default(null),
});

export interface TakenIn {
  code: string;
  kind: 'capture' | 'image';
}

/** Stores an upload as a medium of its own, or as a further copy. */
export async function takeIn(db: Database, operatorId: number, about: z.input<typeof IntakeAbout>, bytes: Uint8Array): Promise<TakenIn> {
  const { name: fileName, code, set: setName, number: setNumber } = IntakeAbout.parse(about);
  const name = storable(fileName);
  // The folders above it are kept with the copy; the title is what the file was called.
  const title = name.split('/').pop()!;
  if (bytes.length === 0) throw new UserError(`${name} is empty. Nothing was taken in.`, 422);
  const container = readContainer(bytes, nodeDigester);
  const isCapture = beginsAsContainer(bytes) || container.readings > 0;
  // Images with a status byte a sector, and cut ones, are no whole number of sectors: then their content decides.
  if (!isCapture && bytes.length % SMALLEST_SECTOR !== 0 && (await candidatesOf(memorySource(bytes))).length === 0) {
    throw new UserError(`${name} is neither a flux capture nor a whole number of sectors, and no volume is known in it (${bytes.length} bytes). Nothing was taken in; if it is packed, unpack it first.`, 422);
  }
  const settled = isCapture ? await settle({ header: container.header, readings: container.tracks, problems: container.problems, description: { title: name }, layouts: await allLayouts(db), asMade: new Set() }) : null;
  if (isCapture && !settled) {
    throw new UserError(`${name} is a flux capture, but no sector of any kind was found in it. Nothing was taken in.${container.problems[0] ? ` ${container.problems[0].message}` : ''}`, 422);
  }
  const form: FormFactor = container.header?.form ?? '3.5';
  return db.transaction(async (tx) => {
    let medium = code ? (await tx.select().from(media).where(eq(media.code, code)))[0] : undefined;
    if (code && !medium) throw new UserError(`There is no medium ${code}. Nothing was taken in.`, 404);
    if (!medium) {
      // Two uploads at once must not draw the same code.
      await tx.execute(sql`select pg_advisory_xact_lock(7340118)`);
      [medium] = await tx.insert(media).values({
        code: await nextCode(tx), form, title: storable(container.header?.label || title).slice(0, 200) || 'unnamed', labelText: '', lender: '', lot: '', condition: '', setName: storable(setName), setNumber: setName ? setNumber : null, registeredBy: operatorId,
      }).returning();
      if (medium!.setName) await tx.insert(sets).values({ name: medium!.setName }).onConflictDoNothing();
      await note(tx, { operatorId, kind: 'registered', mediumId: medium!.id, what: `${medium!.code} registered from the file ${name}.` });
    }
    const capture = isCapture ? await storeBlob(tx, bytes) : null;
    await storeFairCopy(tx, {
      operatorId, mediumId: medium!.id, source: 'upload', sourceName: name, image: settled?.image ?? bytes, settled, captureBlob: capture?.id ?? null, problems: container.readings > 0 ? container.problems : [],
    });
    return { code: medium!.code, kind: isCapture ? 'capture' as const : 'image' as const };
  });
}
