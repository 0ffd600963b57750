/**
 * Cards for devices that stand in for a drive: many images converted at once, as one ZIP; and what
 * a card that comes back has changed.
 */
import { desc, eq, inArray } from 'drizzle-orm';
import { z } from 'zod';
import {
  CARD_PROFILES,
  type CardProfile,
  cardNames,
  compareCard,
  contentsList,
  fillTemplate,
  unknownFields,
} from '@/core/assembly/memory-card';
import { toHex } from '@/core/digester';
import { IMAGE_KINDS, kindsOf, writeKind, type ImageKind } from '@/core/image/kinds';
import type { Layout } from '@/core/layout/layout';
import { nodeDigester } from '@/node/digester';
import { readBlob, streamBlob } from '@/server/platform/blobs/read-blob';
import { cards, type CardContent } from './tables';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { download } from '@/server/platform/http/respond';
import { refuseTooMuch, zipOf, type ZipMember } from '@/server/platform/http/zip';
import { layoutOfCopy } from '../layouts/layouts';
import { note } from '../ledger/ledger';
import { refuseHeldCopies } from '../rights/holds';
import { refuseQuarantined } from '../signatures/signatures';
import { said } from '@/core/said';
import { say } from '@/messages';

const MAX_IMAGES = 1000;

export const NewCard = z
  .object({
    title: z.string().trim().min(1, say.forms.sayWhatTheCard).max(120).transform(sanitizeText),
    profile: z.enum(CARD_PROFILES.map(({ id }) => id) as [string, ...string[]]),
    copies: z
      .array(z.int().min(1))
      .min(1, say.forms.chooseAnImage)
      .max(MAX_IMAGES, say.forms.atMostOnOne({ maxImages: MAX_IMAGES })),
    kind: z.enum(IMAGE_KINDS).nullable().default(null),
    settingsName: z
      .string()
      .trim()
      .regex(/^[A-Za-z0-9._-]{0,40}$/, say.forms.lettersDigitsDotsAnd)
      .default(''),
    template: z.string().max(20_000).transform(sanitizeText).default(''),
  })
  .superRefine(({ template, settingsName }, context) => {
    const unknown = unknownFields(template);
    if (unknown.length > 0)
      context.addIssue({
        code: 'custom',
        path: ['template'],
        message: say.forms.thereIsNo({ unknown: unknown.map((field) => `{${field}}`).join(', ') }),
      });
    if (template.trim() !== '' && settingsName === '')
      context.addIssue({
        code: 'custom',
        path: ['settingsName'],
        message: say.forms.theSettingsFileNeeds,
      });
  });

type Copy = typeof fairCopies.$inferSelect;

/** The image of a copy as one of our kinds; null leaves it as it is. */
async function bytesAs(
  db: Executor,
  copy: Copy,
  kind: CardContent['kind'],
): Promise<Uint8Array | null> {
  if (!kind) return null;
  const layout = await layoutOfCopy(db, copy);
  return layout
    ? writeKind({ layout, bytes: await readBlob(db, copy.imageBlob), status: null }, kind, false)
    : null;
}

export async function makeCard(
  db: Database,
  operatorId: number,
  input: z.input<typeof NewCard>,
): Promise<{ id: number }> {
  const { title, profile: profileId, copies, kind, settingsName, template } = NewCard.parse(input);
  const profile = CARD_PROFILES.find(({ id }) => id === profileId)!;
  const chosen = await chosenCopies(copies, profile, db);
  await refuseHeldCopies(db, copies, operatorId);
  const images: CardContent[] = await imagesFor(chosen, db, kind, profile);
  refuseTooMuch(
    images.length + 2,
    images.reduce((sum, { bytes }) => sum + bytes, 0),
  );
  return db.transaction(async (tx) => {
    const [row] = await tx
      .insert(cards)
      .values({
        title,
        profile: profileId,
        kind,
        settingsName,
        template,
        images,
        madeBy: operatorId,
      })
      .returning({ id: cards.id });
    await note(tx, {
      operatorId,
      kind: 'memory-card',
      what: said('memoryCards.cardMadeOfImages', { title, images: images.length }),
    });
    await announce(tx, { kind: 'assemblies' });
    return { id: row!.id };
  });
}

async function chosenCopies(copies: number[], profile: CardProfile, db: Database) {
  if (copies.length > profile.mostImages)
    throw new UserError(
      said('memoryCards.suchADeviceTakes', {
        mostImages: profile.mostImages,
        copies: copies.length,
      }),
      422,
      'copies',
    );
  const rows = await db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(fairCopies.id, copies));
  return copies.map((id) => {
    const row = rows.find(({ fair_copies: copy }) => copy.id === id);
    if (!row) throw notFound(said('memoryCards.oneOfTheseImages'));
    return row;
  });
}

type Chosen = Awaited<ReturnType<typeof chosenCopies>>[number];

/** The kind that was asked for, where the image can be of it; null where none was. */
function kindFor(code: string, layout: Layout | null, kind: ImageKind | null): ImageKind | null {
  const kinds = layout ? kindsOf(layout) : [];
  if (!kind || kinds.includes(kind)) return kind;
  const why = layout
    ? said('memoryCards.itCanBe', { layout: kinds.map((each) => `.${each}`).join(', ') })
    : said('memoryCards.itsLayoutIsNot');
  throw new UserError(said('memoryCards.cantBeWrittenAs', { code, kind, why }), 409);
}

async function imagesFor(
  chosen: readonly Chosen[],
  db: Database,
  kind: ImageKind | null,
  profile: CardProfile,
): Promise<CardContent[]> {
  const images: CardContent[] = [];
  const endings: string[] = [];
  for (const { fair_copies: copy, media: medium } of chosen) {
    await refuseQuarantined(db, copy.id, false);
    const layout = await layoutOfCopy(db, copy);
    const own = kindFor(medium.code, layout, kind);
    const bytes = await bytesAs(db, copy, own);
    images.push({
      copyId: copy.id,
      code: medium.code,
      title: medium.title,
      kind: own,
      number: 0,
      path: '',
      bytes: bytes?.length ?? copy.imageBytes,
      sha256: bytes ? toHex(nodeDigester.sha256(bytes)) : copy.imageSha256,
    });
    const usual = medium.form === 'optical-disc' ? 'iso' : 'img';
    endings.push(own ?? (layout ? kindsOf(layout)[0]! : usual));
  }
  const wished = images.map(({ code, title }, i) => ({ code, title, ending: endings[i]! }));
  const names = cardNames(profile, wished);
  return images.map((image, i) => ({ ...image, ...names[i]! }));
}

export function listCards(db: Executor) {
  return db
    .select({
      id: cards.id,
      title: cards.title,
      profile: cards.profile,
      settingsName: cards.settingsName,
      images: cards.images,
      who: operators.name,
      madeAt: cards.madeAt,
    })
    .from(cards)
    .innerJoin(operators, eq(operators.id, cards.madeBy))
    .orderBy(desc(cards.id))
    .limit(100);
}

async function cardRow(db: Executor, id: number) {
  const [row] = await db.select().from(cards).where(eq(cards.id, id));
  if (!row) throw notFound(said('memoryCards.card', { id }));
  return row;
}

async function* cardMembers(
  db: Database,
  { title, images, settingsName, template }: Awaited<ReturnType<typeof cardRow>>,
): AsyncGenerator<ZipMember> {
  const text = (name: string, content: string): ZipMember => ({
    name,
    modified: null,
    bytes: [new TextEncoder().encode(content)],
  });
  for (const { copyId, kind, path } of images) {
    const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, copyId));
    const bytes = await bytesAs(db, copy!, kind);
    yield {
      name: path,
      modified: null,
      bytes: bytes ? [bytes] : streamBlob(db, copy!.imageBlob),
    };
  }
  if (settingsName !== '') yield text(settingsName, fillTemplate(template, title, images));
  yield text('CONTENTS.TXT', contentsList(title, images));
}

/** The whole card as a ZIP: unpacked onto the memory card it is what the device expects. */
export async function cardDownload(db: Database, id: number): Promise<Response> {
  const row = await cardRow(db, id);
  const name = row.title.replace(/[^\p{L}\p{N} ._-]/gu, '_');
  return download(zipOf(cardMembers(db, row)), `${name}.zip`, null, 'application/zip');
}

export const CameBack = z.object({
  files: z
    .array(
      z.object({
        path: z.string().max(400),
        bytes: z.int().min(0),
        sha256: z.string().regex(/^[0-9a-f]{64}$/),
      }),
    )
    .max(20_000),
});

/** What a card that came back has changed; the settings and the list are not counted. */
export async function compareBack(db: Executor, id: number, { files }: z.output<typeof CameBack>) {
  const { images, settingsName } = await cardRow(db, id);
  const beside = new Set([settingsName.toLowerCase(), 'contents.txt']);
  const compared = compareCard(
    images.map(({ path, bytes, sha256 }) => ({ path, bytes, sha256 })),
    files.filter(({ path }) => !beside.has(path.toLowerCase())),
  );
  return compared.map((file) => ({
    ...file,
    code: images.find(({ path }) => path === file.path)?.code ?? null,
  }));
}
