/**
 * Blank formatted images, one or many, made as they are asked for; and the stock of blank media.
 */
import { FORM_NAMES } from '@/messages/names';
import { and, eq, inArray, notInArray, sql } from 'drizzle-orm';
import { z } from 'zod';
import { BLANK_KINDS, type BlankKind } from '@/core/identify/blank-kinds';
import { formattedImage, makeBlank } from '@/core/identify/make-blank';
import type { Executor } from '@/server/platform/db/database';
import { isInUse } from '../media/in-use';
import { media } from '../media/tables';
import { stations } from '../stations/tables';
import { writebacks } from '../writebacks/tables';
import { UserError } from '@/server/platform/errors';
import { download, downloadBytes } from '@/server/platform/http/respond';
import { zipOf, type ZipMember } from '@/server/platform/http/zip';
import { refusing } from './assembly-volume';
import { findLayout } from '../layouts/layouts';
import { said, type Said } from '@/core/said';

const MAX_BLANK_IMAGES = 200;

export const BlankQuestion = z.object({
  kind: z.string().max(100),
  count: z.coerce.number().int().min(1).max(MAX_BLANK_IMAGES).default(1),
  label: z.string().trim().max(16).default(''),
});

/** One image, or a ZIP of many whose labels are numbered. */
export async function blankImages(
  db: Executor,
  { kind, count, label }: z.output<typeof BlankQuestion>,
): Promise<Response> {
  const known = BLANK_KINDS.find(({ id }) => id === kind);
  const blank = known ? ofKind(known) : await bareKind(db, kind);
  const width = String(count).length;
  const longest = [...label].length + (count > 1 && label ? width : 0);
  if (label && longest > blank.mostLabel)
    throw new UserError(
      blank.mostLabel === 0
        ? said('assemblies.hasNoLabel', { title: blank.name })
        : said('assemblies.aLabelOfHas', {
            title: blank.name,
            mostLabel: blank.mostLabel,
            count,
            width,
          }),
      422,
      'label',
    );
  const labelOf = (n: number) =>
    count > 1 && label ? `${label}${String(n).padStart(width, '0')}` : label;
  const one = (n: number) => blank.make(labelOf(n));
  // What can't be made is told before a download begins.
  const first = await refusing(() => one(1));
  if (count === 1) return downloadBytes(first, `${blank.id}.${blank.ending}`);
  async function* members(): AsyncGenerator<ZipMember> {
    for (let n = 1; n <= count; n++)
      yield {
        name: `${blank.id}-${String(n).padStart(width, '0')}.${blank.ending}`,
        modified: null,
        bytes: [n === 1 ? first : one(n)],
      };
  }
  return download(zipOf(members()), `${blank.id} × ${count}.zip`, null, 'application/zip');
}

/** An image that can be asked for. */
interface Offered extends Pick<BlankKind, 'mostLabel' | 'ending'> {
  id: string;
  name: Said | string;
  make(label: string): Uint8Array;
}

const ofKind = (kind: BlankKind): Offered => ({
  id: kind.id,
  name: said(`blanks.${kind.id}`),
  mostLabel: kind.mostLabel,
  ending: kind.ending,
  make: (label) => makeBlank(kind, label),
});

/** `layout:ID`: formatted, without a file system. */
async function bareKind(db: Executor, kind: string): Promise<Offered> {
  const layout = kind.startsWith('layout:')
    ? await findLayout(db, kind.slice('layout:'.length))
    : null;
  if (!layout) throw new UserError(said('assemblies.thereIsNoSuch'), 404);
  return {
    id: layout.id,
    name: layout.id,
    mostLabel: 0,
    ending: 'img',
    make: () => formattedImage(layout),
  };
}

/** Blank media by kind: how many are unused, and where those in stations are. */
export async function blankStock(db: Executor) {
  const used = db
    .select({ id: writebacks.targetId })
    .from(writebacks)
    .where(inArray(writebacks.state, ['proved', 'unproved', 'writing', 'held']));
  const rows = await db
    .select({
      form: media.form,
      density: media.density,
      codes: sql<string[]>`array_agg(${media.code} order by ${media.code})`,
      inStation: sql<number[]>`array_remove(array_agg(${stations.id}), null)`,
    })
    .from(media)
    .leftJoin(stations, eq(stations.mediumId, media.id))
    .where(and(isInUse, eq(media.isBlank, true), notInArray(media.id, used)))
    .groupBy(media.form, media.density);
  return rows.map(({ form, density, codes, inStation }) => ({
    form,
    density,
    words: `${FORM_NAMES[form]}${density === 'high' ? ', high density' : density ? ', double density' : ''}`,
    left: codes.length,
    codes: codes.slice(0, 12),
    inStation,
  }));
}
