/**
 * The volume of an assembly as its edits have made it: made anew at every look, so that it is
 * always what they say. Edits are made, and content is hashed, on a thread beside the requests.
 */
import { eq } from 'drizzle-orm';
import type { Assembled } from '@/core/assembly/edits';
import { changesOf } from '@/core/assembly/changes';
import type { ListedVolume } from '@/core/assembly/listed';
import { joinedSource, memorySource, type ByteSource } from '@/core/bits/byte-source';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { writableVolume } from '@/core/identify/writable-volume';
import { VolumeRefusal } from '@/core/volume/writable';
import { runImageTask } from '@/server/platform/threads/image-tasks';
import { assemblies } from './tables';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { baseImage, bytesToPut } from './assembly-sources';
import { said } from '@/core/said';

export type AssemblyRow = typeof assemblies.$inferSelect;

/** Largest image that is changed in memory. */
const MAX_IMAGE_BYTES = 64 << 20;

export async function assemblyRow(db: Executor, id: number): Promise<AssemblyRow> {
  const [row] = await db.select().from(assemblies).where(eq(assemblies.id, id));
  if (!row) throw notFound(said('assemblies.assembly', { id }));
  return row;
}

/** What it began with: a blank volume, or an image of the holdings. */
async function baseOf(
  db: Executor,
  { kind, label, baseId }: Pick<AssemblyRow, 'kind' | 'label' | 'baseId'>,
): Promise<Uint8Array> {
  if (baseId === null) {
    const blank = BLANK_KINDS.find(({ id }) => id === kind);
    if (!blank) throw new UserError(said('assemblies.thereIsNoSuch'), 422, 'kind');
    return refusing(() => makeBlank(blank, label));
  }
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, baseId));
  if (!copy) throw notFound(said('assemblies.theImageThatIt'));
  if (copy.imageBytes > MAX_IMAGE_BYTES)
    throw new UserError(
      said('assemblies.thisImageHasBytes', {
        imageBytes: copy.imageBytes,
        maxImageBytes: MAX_IMAGE_BYTES,
      }),
      413,
    );
  return baseImage(db, copy);
}

/** What a volume refuses, as a sentence for the person who asked for it. */
export async function refusing<T>(work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof VolumeRefusal)
      throw new UserError(said('assemblies.nothingWasChanged', { message: error.said }), 409);
    throw error;
  }
}

export interface OpenAssembly extends Assembled {
  base: Uint8Array;
  /** Of the blank that it began as; null where it began with an image. */
  kind: string | null;
}

/** Throws UserError where it began with nothing that can be changed. */
export async function openAssembly(
  db: Executor,
  row: Pick<AssemblyRow, 'kind' | 'label' | 'baseId' | 'edits' | 'done'>,
): Promise<OpenAssembly> {
  const base = await baseOf(db, row);
  const edits = row.edits.slice(0, row.done);
  const puts = edits.filter((edit) => edit.kind === 'put');
  const contents = puts.map((edit): ByteSource => ({
    size: edit.bytes,
    read: async (offset, length) => (await bytesToPut(db, edit)).subarray(offset, offset + length),
  }));
  return refusing(async () => {
    const image = await runImageTask(joinedSource([memorySource(base), ...contents]), 'assemble', {
      baseBytes: base.length,
      kind: row.kind,
      edits,
    });
    if ('refused' in image) throw new VolumeRefusal(image.refused, image.said);
    return { base, kind: row.kind, image, volume: (await writableVolume(image, row.kind))! };
  });
}

/** The files and folders on it now, without their content. */
export const entriesIn = async ({ image, kind }: Pick<OpenAssembly, 'image' | 'kind'>) =>
  (await runImageTask(memorySource(image), 'list', { withDigests: false, kind })).entries;

/**
 * What an image began with never changes: it is listed and hashed once for as long as its bytes are
 * kept.
 */
const listedBases = new WeakMap<Uint8Array, Promise<ListedVolume>>();

const listed = (image: Uint8Array, kind: string | null) =>
  runImageTask(memorySource(image), 'list', { withDigests: true, kind });

function listedBase(base: Uint8Array, kind: string | null): Promise<ListedVolume> {
  const before = listedBases.get(base);
  if (before) return before;
  const now = listed(base, kind);
  listedBases.set(base, now);
  // What failed is tried again at the next look.
  now.catch(() => listedBases.delete(base));
  return now;
}

/** What is on it now, with what changed against what was there, and what is gone. */
export async function changesIn({ base, image, kind }: OpenAssembly) {
  const [before, now] = await Promise.all([listedBase(base, kind), listed(image, kind)]);
  const changes = changesOf(before.entries, now.entries);
  return {
    problems: now.problems,
    label: now.label,
    files: now.entries.map((file, i) => ({
      ...file,
      change: changes[i]!.change,
      was: changes[i]!.was,
    })),
    gone: changes.slice(now.entries.length).map(({ path }) => path),
  };
}
