/**
 * A medium as a folder: its newest image with what is on it, under safe names. What may not leave is
 * refused each time that it is asked for, and what leaves is in the ledger.
 */
import { sliceSource } from '@/core/bits/byte-source';
import { fileNameOfCode } from '@/core/medium-code';
import { soundsIn } from '@/core/sound/sounds-of';
import { UniqueNames } from '@/core/volume/unique-names';
import { entryFiles, type OfImage } from '@/dav/image-tree';
import { typeOfOwn } from '@/dav/media-type';
import { DavRefusal, type DavFolder, type DavNode } from '@/dav/node';
import { soundFiles } from '@/dav/sound-files';
import { partOf, treeOf, type TreeFile } from '@/dav/tree';
import { nodeDigester } from '@/node/digester';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { blobSource, refuseDamaged, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { describedSidecar } from '../copies/described/described-sidecar';
import { rawImage, rawTracksOf, sheetPart, soundPart } from '../copies/disc-parts';
import { entriesToTake } from '../copies/files-of-copy';
import { imageName } from '../copies/image-of-copy';
import { latestFairCopy } from '../copies/queries';
import type { fairCopies } from '../copies/tables';
import { mediumByCode } from '../media/media';
import { media } from '../media/tables';
import { noteHandedOut } from '../rights/handing-out';
import { refuseHeld } from '../rights/holds';
import { refuseQuarantined } from '../signatures/signatures';
import { rateOf } from '../sounds/sound-rates';
import type { OpenMedium } from './folders';

type Copy = typeof fairCopies.$inferSelect;
type Medium = typeof media.$inferSelect;

const STATUSES = new Set<number>([403, 404, 409, 503] as const);

/** What the house refuses in words, the folder does. */
function asRefusal(error: unknown): unknown {
  if (!(error instanceof UserError)) return error;
  const { status, message } = error;
  return new DavRefusal((STATUSES.has(status) ? status : 409) as DavRefusal['status'], message);
}

/** The image as it lies in the store. */
async function blobFile(
  db: Database,
  blobId: string,
  path: string,
  { modified }: OfImage,
): Promise<TreeFile> {
  const { size, sha256 } = await blobOf(db, blobId);
  async function* stream(start: number, end: number): AsyncGenerator<Uint8Array> {
    await refuseDamaged(db, blobId);
    yield* streamBlob(db, blobId, start, end);
  }
  return { path, size, type: typeOfOwn(path), modified, tag: sha256!, stream };
}

async function discFiles(
  db: Database,
  copy: Copy,
  code: string,
  { names, of }: { names: UniqueNames; of: OfImage },
): Promise<TreeFile[]> {
  const tracks = rawTracksOf(copy);
  if (tracks.length === 0) return [];
  const rawName = names.pathOf(`${fileNameOfCode(code)}.bin`);
  const source = await rawImage(db, copy);
  const sheet = sheetPart(tracks, rawName, code);
  const sounds = tracks.flatMap((track) => soundPart(source, track, code) ?? []);
  const made = [sheet, ...sounds].map((part, i): TreeFile => {
    const path = names.pathOf(part === sheet ? part.name : `sounds/${part.name}`);
    const stream = (start: number, end: number) => partOf(part.stream(), start, end);
    const about = { type: typeOfOwn(path), modified: of.modified, tag: `${of.tag}-d${i}` };
    return { path, size: part.bytes, ...about, stream };
  });
  return [await blobFile(db, copy.captureBlob!, rawName, of), ...made];
}

/** All of a copy that does not change any more. */
async function filesOf(db: Database, copy: Copy, { code, form }: Medium): Promise<TreeFile[]> {
  const names = new UniqueNames();
  const of: OfImage = { tag: copy.imageSha256, modified: copy.madeAt };
  const image = await blobFile(db, copy.imageBlob, names.pathOf(imageName(code, form)), of);
  const disc = await discFiles(db, copy, code, { names, of });
  const source = await blobSource(db, copy.imageBlob);
  const entries = await entriesToTake(db, copy.id, { prefix: 'files/' }, new UniqueNames());
  const placed = entries.map(({ entry, volume, writtenAs }) => ({
    place: writtenAs,
    entry: { ...entry, link: undefined },
    volume: sliceSource(source, volume.offset, volume.length),
  }));
  const { sounding } = await soundsIn(source, await rateOf(db, copy.mediumId));
  const sounds = soundFiles(sounding, names, { of, digester: nodeDigester });
  return [image, ...disc, ...entryFiles(placed, names, of), ...sounds];
}

/** Trees that were asked for last; a copy never changes. */
const MAX_KEPT = 16;
const kept = new Map<string, Promise<TreeFile[]>>();

function keptFilesOf(db: Database, copy: Copy, medium: Medium): Promise<TreeFile[]> {
  const key = `${copy.id} ${medium.code}`;
  const files = kept.get(key) ?? filesOf(db, copy, medium);
  kept.delete(key);
  kept.set(key, files);
  // One that failed is tried again.
  files.catch(() => kept.delete(key));
  if (kept.size > MAX_KEPT) kept.delete(kept.keys().next().value!);
  return files;
}

type Members = ReadonlyMap<string, DavNode>;

/** A program that walks through a folder asks for the same again and again. */
const LATELY_MS = 1000;
const looked = new Map<string, { at: number; members: Promise<Members> }>();

/** What was looked into just now is not looked into anew. */
function lately(key: string, look: () => Promise<Members>): Promise<Members> {
  const last = looked.get(key);
  if (last && Date.now() - last.at < LATELY_MS) return last.members;
  const members = look();
  looked.set(key, { at: Date.now(), members });
  members.catch(() => looked.delete(key));
  if (looked.size > MAX_KEPT) looked.delete(looked.keys().next().value!);
  return members;
}

class MediumFolder implements DavFolder {
  readonly kind = 'folder';
  readonly modified: Date;

  constructor(
    private readonly db: Database,
    readonly name: string,
    private readonly open: OpenMedium,
  ) {
    this.modified = open.openedAt;
  }

  async members(): Promise<Members> {
    const { db, open } = this;
    try {
      await refuseHeld(db, [open.id], open.openedBy);
      return await lately(`${open.id} ${open.openedBy} ${this.name}`, () => this.lookedInto());
    } catch (error) {
      throw asRefusal(error);
    }
  }

  private async lookedInto(): Promise<Members> {
    const { db, open } = this;
    const copy = await latestFairCopy(db, open.id);
    if (!copy) return new Map();
    await refuseQuarantined(db, copy.id, false);
    const medium = await mediumByCode(db, open.code);
    const files = await keptFilesOf(db, copy, medium);
    const sidecar = await this.sidecarOf(copy, medium);
    const all = [...files, ...sidecar].map((file) => this.handedOut(file));
    return treeOf(this.name, copy.madeAt, all).members();
  }

  /** With what is said of it today. */
  private async sidecarOf(copy: Copy, medium: Medium): Promise<TreeFile[]> {
    if (!copy.sidecarBlob) return [];
    const sidecar = await describedSidecar(this.db, copy.sidecarBlob, copy, medium);
    const path = `${fileNameOfCode(medium.code)}.sidecar.json`;
    return [{ path, type: 'application/json', modified: copy.madeAt, ...sidecar }];
  }

  private handedOut(file: TreeFile): TreeFile {
    const { db, open } = this;
    const sha256 = /^[0-9a-f]{64}$/.test(file.tag) ? file.tag : '';
    const what = { name: file.path, bytes: file.size, sha256 };
    return {
      ...file,
      async *stream(start, end) {
        try {
          await noteHandedOut(db, open.openedBy, [open.id], what);
          yield* file.stream(start, end);
        } catch (error) {
          throw asRefusal(error);
        }
      },
    };
  }
}

export const mediumFolder = (db: Database, name: string, open: OpenMedium): DavFolder =>
  new MediumFolder(db, name, open);
