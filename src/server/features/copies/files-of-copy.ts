/**
 * Files of a fair copy on their way out: under safe names, with a manifest of what each was called
 * and what is doubtful of it.
 */
import { sliceSource } from '@/core/bits/byte-source';
import { TRANSCRIPT_LIMIT, transcriptOf } from '@/core/text/transcript';
import { onlyInOthers, pathInView } from '@/core/volume/disc-volume';
import { UniqueNames } from '@/core/volume/unique-names';
import { streamContents } from '@/core/volume/contents';
import { collect } from '@/core/volume/volume';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { fairCopies } from './tables';
import type { ZipMember } from '@/server/platform/http/zip';
import { contentsOf } from './queries';

export interface OutgoingFiles {
  count: number;
  /** One packed image, of any size: it needs no ZIP around it, where nothing else goes out. */
  isAlone: boolean;
  /** Members of a ZIP at most: texts beside files count too. */
  mostMembers: number;
  bytes: number;
  members(): AsyncGenerator<ZipMember>;
  /** Complete once every member was taken. */
  manifest: object;
}

export interface Wanted {
  /** Put before every name: a folder, with a slash at its end. */
  prefix?: string;
  /** Only what is in this folder of this volume. */
  folder?: { volumeId: number; path: string } | null;
  /** Only these, by their rows. */
  files?: ReadonlySet<number> | null;
  /** A text or listing in UTF-8 beside each file that has one. */
  asText?: boolean;
}

type Volumes = Awaited<ReturnType<typeof contentsOf>>;
type Entry = Volumes[number]['entries'][number];
interface Listed {
  entry: Entry;
  volume: Volumes[number];
  path: string;
}
interface EntryToTake extends Listed {
  writtenAs: string;
}

/** What is taken, each under a name of its own. */
export async function entriesToTake(
  db: Executor,
  copyId: number,
  { prefix = '', folder = null, files: only = null }: Wanted,
  names: UniqueNames,
): Promise<EntryToTake[]> {
  const contents = await contentsOf(db, copyId);
  const isWanted = ({ id, kind, recoverable, path, link }: Entry) =>
    kind === 'file' &&
    link === null &&
    recoverable !== 'none' &&
    (!folder || path.startsWith(`${folder.path}/`)) &&
    (!only || only.has(id));
  const listed = folder
    ? contents.filter(({ id }) => id === folder.volumeId).flatMap(allOf)
    : contents.filter(({ view }) => view === null).flatMap((each) => withOthers(each, contents));
  return listed
    .filter(({ entry }) => isWanted(entry))
    .map((each) => ({ ...each, writtenAs: names.pathOf(`${prefix}${placeIn(each)}`) }));
}

const allOf = (volume: Volumes[number]): Listed[] =>
  volume.entries.map((entry) => ({ entry, volume, path: entry.path }));

/** A volume's files, and those that another directory of the same disc alone lists. */
function withOthers(volume: Volumes[number], contents: Volumes): Listed[] {
  const others = contents.filter(
    ({ view, partition, inside, offset }) =>
      view !== null &&
      partition === volume.partition &&
      inside === volume.inside &&
      offset === volume.offset,
  );
  const only = onlyInOthers(volume.entries, others).map(({ entry, view }) => ({
    entry,
    volume: view,
    path: pathInView(view.view!, entry.path),
  }));
  return [...allOf(volume), ...only];
}

/** Where a file stands in what is taken out. */
function placeIn({ entry, volume: { partition, inside }, path }: Listed): string {
  const part = partition === null ? '' : `${partition}/`;
  const opened = inside === null ? '' : `${inside} (opened)/`;
  return `${part}${opened}${entry.deleted ? 'deleted/' : ''}${path}`;
}

/** What the manifest says of a file. */
function manifestFile({ entry, volume: { partition, inside, view }, writtenAs }: EntryToTake) {
  return {
    writtenAs,
    transcript: null as string | null,
    partition,
    inside,
    /** Another directory of a disc, which alone lists it. */
    view,
    path: entry.path,
    recordedName: entry.recordedName,
    type: entry.type,
    bytes: entry.bytes,
    modified: entry.modified,
    locked: entry.locked,
    deleted: entry.deleted,
    recoverable: entry.recoverable,
    damaged: entry.damaged,
    sectorsInDoubt: entry.sectorsInDoubt,
    doubts: entry.doubts,
    sha256: entry.sha256,
  };
}

export async function filesOfCopy(
  db: Executor,
  copy: typeof fairCopies.$inferSelect,
  code: string,
  { prefix = '', folder = null, files: only = null, asText = false }: Wanted,
  names = new UniqueNames(),
): Promise<OutgoingFiles> {
  const entries = await entriesToTake(db, copy.id, { prefix, folder, files: only }, names);
  const files = entries.map(manifestFile);
  async function* members(): AsyncGenerator<ZipMember> {
    const source = await blobSource(db, copy.imageBlob);
    for (const [i, { entry, volume, writtenAs }] of entries.entries()) {
      const bytes = streamContents(sliceSource(source, volume.offset, volume.length), entry);
      if (!asText || entry.bytes > TRANSCRIPT_LIMIT) {
        yield { name: writtenAs, modified: entry.modified, bytes };
        continue;
      }
      const whole = await collect(bytes);
      yield { name: writtenAs, modified: entry.modified, bytes: [whole] };
      const text = transcriptOf(whole, volume.filesystem, entry.type);
      if (text === null) continue;
      files[i]!.transcript = names.pathOf(`${writtenAs}.utf-8.txt`);
      yield {
        name: files[i]!.transcript!,
        modified: entry.modified,
        bytes: [new TextEncoder().encode(text)],
        beside: true,
      };
    }
  }
  return {
    count: entries.length,
    isAlone: false,
    mostMembers: entries.length * (asText ? 2 : 1),
    bytes: entries.reduce((sum, { entry }) => sum + entry.bytes, 0),
    members,
    manifest: {
      format: 'frail-spindle-extract',
      version: 1,
      medium: code,
      image: { sha256: copy.imageSha256, bytes: copy.imageBytes },
      folder: folder?.path ?? null,
      files,
    },
  };
}

export const manifestMember = (name: string, manifest: object): ZipMember => ({
  name,
  modified: null,
  bytes: [new TextEncoder().encode(`${JSON.stringify(manifest, null, 1)}\n`)],
});
