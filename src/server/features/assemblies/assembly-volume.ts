/**
 * The volume of an assembly as its edits have made it: made anew at every look, so that it is
 * always what they say.
 */
import { eq } from 'drizzle-orm';
import { assemble, type Assembled } from '@/core/assembly/edits';
import { changesOf, type Listed } from '@/core/assembly/changes';
import { memorySource } from '@/core/bits/byte-source';
import { toHex } from '@/core/digester';
import { identifyVolumes, type FoundVolume } from '@/core/identify/identify';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { VolumeRefusal } from '@/core/volume/writable';
import { nodeDigester } from '@/node/digester';
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
}

/** Throws UserError where it began with nothing that can be changed. */
export async function openAssembly(
  db: Executor,
  row: Pick<AssemblyRow, 'kind' | 'label' | 'baseId' | 'edits' | 'done'>,
): Promise<OpenAssembly> {
  const base = await baseOf(db, row);
  return {
    base,
    ...(await refusing(() =>
      assemble(base, row.kind, row.edits.slice(0, row.done), (edit) => bytesToPut(db, edit)),
    )),
  };
}

/**
 * The volume of an image, whole, as its own system lists it; null where nothing is on it that tells
 * what it is.
 */
export async function volumeIn(image: Uint8Array): Promise<FoundVolume | null> {
  const { volumes } = await identifyVolumes(memorySource(image));
  return volumes.find(({ partition, offset }) => partition === null && offset === 0) ?? null;
}

/** Files and folders with the digests of their content. */
async function listedIn(found: FoundVolume | null) {
  if (!found) return [];
  const entries = found.volume.entries.filter(({ deleted }) => !deleted);
  return Promise.all(
    entries.map(async (entry): Promise<Listed & { modified: string | null }> => {
      const { path, kind, bytes, type, locked, modified } = entry;
      return {
        path,
        kind,
        bytes,
        type,
        locked,
        modified,
        digest: kind === 'file' ? toHex(nodeDigester.sha256(await found.volume.read(entry))) : null,
      };
    }),
  );
}

/**
 * What an image began with never changes: it is listed and hashed once for as long as its bytes are
 * kept.
 */
const listedBases = new WeakMap<Uint8Array, Promise<Listed[]>>();

function listedBase(base: Uint8Array): Promise<Listed[]> {
  let listed = listedBases.get(base);
  if (!listed) listedBases.set(base, (listed = volumeIn(base).then(listedIn)));
  return listed;
}

/** What is on it now, with what changed against what was there, and what is gone. */
export async function changesIn({ base, image }: OpenAssembly) {
  const now = await volumeIn(image);
  const [before, after] = [await listedBase(base), await listedIn(now)];
  const changes = changesOf(before, after);
  return {
    problems: now?.volume.problems ?? [],
    label: now?.volume.label ?? null,
    files: after.map((file, i) => ({ ...file, change: changes[i]!.change, was: changes[i]!.was })),
    gone: changes.slice(after.length).map(({ path }) => path),
  };
}
