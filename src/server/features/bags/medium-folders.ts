/** Media in a bag of ours: folders that say what they are, with their image, papers and events. */
import { readAll, type ByteSource } from '@/core/bits/byte-source';
import { MediumRecord } from '@/core/description/medium-record';
import { CopyRecord } from '@/core/parcel/copy-record';
import { EventsFile, type EventRecord } from '@/core/parcel/event-record';
import type { z } from 'zod';

/** No honest record is longer. */
const MAX_JSON = 256 << 20;

export interface MediumFolder {
  folder: string;
  record: MediumRecord;
  /** By their paths in the folder. */
  files: ReadonlyMap<string, ByteSource>;
}

type Files = ReadonlyMap<string, ByteSource>;

/** What a file says, where it is JSON of that shape. */
async function readJson<T>(source: ByteSource | undefined, shape: z.ZodType<T>): Promise<T | null> {
  if (!source || source.size > MAX_JSON) return null;
  try {
    const json: unknown = JSON.parse(new TextDecoder().decode(await readAll(source, MAX_JSON)));
    return shape.safeParse(json).data ?? null;
  } catch {
    return null;
  }
}

/** What is known of its image: null where it has none, or what is said of it has no known shape. */
export async function copyIn({ files }: MediumFolder): Promise<CopyRecord | null> {
  const copy = await readJson(files.get('copy.json'), CopyRecord);
  return copy && files.get(copy.image.name)?.size === copy.image.bytes ? copy : null;
}

export async function eventsIn({ files }: MediumFolder): Promise<EventRecord[]> {
  return (await readJson(files.get('events.json'), EventsFile))?.events ?? [];
}

/** What may hold the image of a medium, that which most is known from first. */
const IMAGES = [/^[^/]+\.fsflux$/, /^[^/]+\.bin$/, /^[^/]+\.(iso|img)$/];

/** Of a folder without a record of its image: the file that it is to be made of. */
export function imageOf({ files }: MediumFolder): string | null {
  const paths = [...files.keys()];
  return IMAGES.flatMap((pattern) => paths.filter((path) => pattern.test(path)))[0] ?? null;
}

export const IS_PAPER = /^(papers|certificates)\//;
/** What our own parcels have beside, and what is made of the rest anew. */
const IS_MADE =
  /^(record|copy|events)\.json$|^(dublin-core|premis)\.xml$|^files\/|^[^/]+\.sidecar\.json$/;
/** And of a raw disc. */
const IS_MADE_OF_DISC = /^[^/]+\.(cue|wav)$/;

/** Paths of what our own parcels do not have: somebody laid it there. */
export async function unknownIn(folder: MediumFolder): Promise<string[]> {
  const copy = await copyIn(folder);
  const own = copy ? [copy.image.name, copy.sidecar, copy.capture] : [imageOf(folder)];
  const isDisc = own.some((path) => path?.endsWith('.bin'));
  return [...folder.files.keys()].filter(
    (path) =>
      !own.includes(path) &&
      ![IS_PAPER, IS_MADE, ...(isDisc ? [IS_MADE_OF_DISC] : [])].some((known) => known.test(path)),
  );
}

/** Files by the folder at the top that they lie in; those in none under an empty name. */
function byFolder(payload: Files): Map<string, Map<string, ByteSource>> {
  const folders = new Map<string, Map<string, ByteSource>>();
  for (const [path, source] of payload) {
    const slash = path.indexOf('/');
    const folder = slash < 0 ? '' : path.slice(0, slash);
    const files = folders.get(folder) ?? new Map<string, ByteSource>();
    folders.set(folder, files.set(path.slice(slash + 1), source));
  }
  return folders;
}

/** The page that a bag of ours has for people. */
const PAGE = 'index.html';

/** Folders of media, and what is in none of them. */
export async function mediumFoldersIn(
  payload: Files,
): Promise<{ folders: MediumFolder[]; others: Files }> {
  const folders: MediumFolder[] = [];
  const others = new Map<string, ByteSource>();
  for (const [folder, files] of byFolder(payload)) {
    const record = folder ? await readJson(files.get('record.json'), MediumRecord) : null;
    if (record) folders.push({ folder, record, files });
    else
      for (const [path, source] of files) others.set(folder ? `${folder}/${path}` : path, source);
  }
  if (folders.length > 0) others.delete(PAGE);
  return { folders, others };
}
