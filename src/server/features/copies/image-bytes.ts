/**
 * The bytes of a fair copy's image, looked at in place: any stretch of it with what lies there,
 * strings, and what is searched for.
 */
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { sliceSource, type ByteSource } from '@/core/bits/byte-source';
import { searchPattern } from '@/core/scan/rules';
import { areasOf } from '@/core/structure/areas';
import type { Area, Field } from '@/core/structure/structure';
import { tell } from '@/messages/tell';
import { blobSource } from '@/server/platform/blobs/read-blob';
import { runImageTask } from '@/server/platform/threads/image-tasks';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from './tables';
import { UserError, notFound } from '@/server/platform/errors';
import { contentsOf } from './queries';
import { doubtsOfCopy } from './doubts-of-copy';
import { said } from '@/core/said';
import { say } from '@/messages';

const MAX_BYTES = 4096;
const MAX_STRINGS = 500;
const MAX_LENGTH = 64;

/** What the routes take. */
export const BytesQuestion = z.object({
  from: z.coerce.number().int().min(0).default(0),
  length: z.coerce.number().int().min(1).max(MAX_BYTES).default(512),
});
export const StringsQuestion = z.object({
  from: z.coerce.number().int().min(0).default(0),
  least: z.coerce.number().int().min(3, say.forms.atLeast3Characters).max(MAX_LENGTH).default(8),
});
export const FindQuestion = z.object({ pattern: z.string().max(20_000) });

async function copyOf(db: Executor, id: number) {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, id));
  if (!copy) throw notFound(said('platform.suchFairCopy'));
  return { copy, source: await blobSource(db, copy.imageBlob) };
}

/**
 * The areas of every volume and of the partition table, by their place in the image; without
 * fields.
 */
export async function imageMap(db: Executor, id: number) {
  const { copy, source } = await copyOf(db, id);
  const areas = await allAreas(await listedOf(db, id), source);
  return {
    size: source.size,
    sha256: copy.imageSha256,
    areas: areas.map(toldArea),
  };
}

type PlacedArea = Area & { volume: string };

const toldArea = ({ name, offset, length, volume }: PlacedArea) => ({
  name: tell(name),
  offset,
  length,
  volume,
});

const toldField = ({ offset, length, name, value }: Field) => ({
  offset,
  length,
  name: tell(name),
  value: tell(value),
});

type Contents = Awaited<ReturnType<typeof contentsOf>>;

/** The volumes without a disc's other directories, which say of the same bytes the same. */
const listedOf = async (db: Executor, id: number): Promise<Contents> =>
  (await contentsOf(db, id)).filter(({ view }) => view === null);

async function allAreas(contents: Contents, source: ByteSource): Promise<PlacedArea[]> {
  const own = contents.filter(({ inside }) => inside === null);
  const areas: PlacedArea[] = [];
  if (own.some(({ partition }) => partition !== null))
    areas.push(...(await areasOf(source, 'mbr')).map((area) => ({ ...area, volume: '' })));
  for (const { filesystem, partition, offset, length, label } of own) {
    const name = `${partition === null ? '' : `partition ${partition}, `}${filesystem}${label ? ` “${label}”` : ''}`;
    for (const area of await areasOf(sliceSource(source, offset, length), filesystem)) {
      areas.push({
        ...area,
        volume: name,
        offset: area.offset + offset,
        fields: area.fields.map((field) => ({ ...field, offset: field.offset + offset })),
      });
    }
  }
  return areas;
}

/** A file with the parts of it that lie in a stretch; `at` counts in the file. */
interface FileThere {
  id: number;
  path: string;
  volume: number;
  pieces: { offset: number; length: number; at: number }[];
  deleted: boolean;
}

const touches = (a: { offset: number; length: number }, from: number, to: number) =>
  a.offset < to && a.offset + a.length > from;

/**
 * A stretch of the image, the fields and areas in it, the files it belongs to, and what of it no
 * sound sector filled.
 */
export async function imageBytes(
  db: Executor,
  id: number,
  { from, length }: z.output<typeof BytesQuestion>,
) {
  const { copy, source } = await copyOf(db, id);
  const start = Math.min(from, Math.max(0, source.size - 1));
  const bytes = await source.read(start, length);
  const end = start + bytes.length;
  const contents = await listedOf(db, id);
  const areas = (await allAreas(contents, source)).filter((area) => touches(area, start, end));
  const files: FileThere[] = [];
  filesBetween(contents, start, end, files);
  const { ranges } = await doubtsOfCopy(db, copy);
  return {
    from: start,
    size: source.size,
    hex: Buffer.from(bytes).toString('hex'),
    areas: areas.map(toldArea),
    fields: areas
      .flatMap(({ fields }) => fields)
      .filter((field) => touches(field, start, end))
      .map(toldField),
    files,
    doubts: ranges.filter((range) => touches(range, start, end)),
  };
}

function filesBetween(
  contents: Awaited<ReturnType<typeof listedOf>>,
  start: number,
  end: number,
  files: FileThere[],
) {
  for (const volume of contents) {
    for (const entry of volume.entries) {
      if (entry.kind !== 'file') continue;
      const pieces = [];
      let at = 0;
      for (const extent of entry.extents) {
        const piece = { offset: extent.offset + volume.offset, length: extent.length, at };
        if (extent.offset >= 0 && touches(piece, start, end)) pieces.push(piece);
        at += extent.length;
      }
      if (pieces.length > 0)
        files.push({
          id: entry.id,
          path: volume.inside === null ? entry.path : `${volume.inside}/${entry.path}`,
          volume: volume.id,
          pieces,
          deleted: entry.deleted,
        });
    }
  }
}

export async function imageStrings(
  db: Executor,
  id: number,
  { from, least }: z.output<typeof StringsQuestion>,
) {
  const { source } = await copyOf(db, id);
  const { strings, more } = await runImageTask(sliceSource(source, from, source.size), 'strings', {
    least,
    limit: MAX_STRINGS,
  });
  return {
    strings: strings.map(({ offset, text }) => ({
      offset: offset + from,
      text: text.slice(0, 400),
      length: text.length,
    })),
    more,
  };
}

export async function findInImage(
  db: Executor,
  id: number,
  { pattern: typed }: z.output<typeof FindQuestion>,
) {
  const pattern = searchPattern(typed);
  if (!pattern || pattern.length < 2)
    throw new UserError(said('copies.typeATextIn'), 422, 'pattern');
  const { source } = await copyOf(db, id);
  const { matches, more } = await runImageTask(source, 'find', { pattern });
  return {
    length: pattern.length,
    offsets: matches.map(({ offset }) => offset),
    count: more[0]?.count ?? matches.length,
  };
}
