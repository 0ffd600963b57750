/**
 * The image of a fair copy on its way out, packed or not, with its sidecar; and what packing would
 * save.
 */
import { inArray } from 'drizzle-orm';
import { fileNameOfCode } from '@/core/medium-code';
import type { ByteSource } from '@/core/bits/byte-source';
import { packSource, tryPacking } from '@/core/packing/pack-source';
import type { UniqueNames } from '@/core/volume/unique-names';
import { streamExtents } from '@/core/volume/volume';
import { nodeDeflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { blobSource, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from './tables';
import { type media } from '../media/tables';
import type { ZipMember } from '@/server/platform/http/zip';
import type { OutgoingFiles } from './files-of-copy';
import { rawImage, rawTracksOf, sheetPart, soundPart, type DiscPart } from './disc-parts';
import { describedSidecar } from './described/described-sidecar';

type Copy = typeof fairCopies.$inferSelect;

/** Most copies whose packing is tried at once. */
export const MAX_TRIED = 500;

export const imageName = (code: string, form: string) =>
  `${fileNameOfCode(code)}.${form === 'optical-disc' ? 'iso' : 'img'}`;

/** A member of the ZIP, and what the manifest says of it. */
interface Part {
  member: ZipMember;
  bytes: number;
}

interface Out {
  code: string;
  packed: boolean;
  names: UniqueNames;
}

/** A name no member has yet, with the ending of what is packed. */
const nameOf = ({ names, packed }: Out, name: string): string =>
  names.pathOf(`${name}${packed ? '.gz' : ''}`);

/** Bytes of an image, packed so that they can be read where they lie, or as they are. */
const imageBytes = (source: ByteSource, packed: boolean, plain: () => ZipMember['bytes']) =>
  packed ? packSource(source, nodeDeflater, nodeDigester) : plain();

/** The raw image of a disc, its sheet and its sound; nothing of what is no such disc. */
async function discParts(db: Executor, copy: Copy, out: Out): Promise<Part[]> {
  const tracks = rawTracksOf(copy);
  if (tracks.length === 0) return [];
  const { code, packed, names } = out;
  const binName = `${fileNameOfCode(code)}.bin`;
  const source = await rawImage(db, copy);
  const rawName = nameOf(out, binName);
  const whole = { extents: [{ offset: 0, length: source.size }], bytes: source.size };
  const bytes = imageBytes(source, packed, () => streamExtents(source, whole));
  const made = [
    sheetPart(tracks, binName, code),
    ...tracks.map((track) => soundPart(source, track, code)),
  ].filter((part): part is DiscPart => part !== null);
  return [
    { bytes: source.size, member: { name: rawName, ...beside, stored: packed, bytes } },
    ...made.map((part) => ({
      bytes: part.bytes,
      member: { name: names.pathOf(part.name), ...beside, bytes: part.stream() },
    })),
  ];
}

/** No file of its own in the count. */
const beside = { modified: null, beside: true };

/** A copy's image with its card and, of a disc that was read raw, all of the disc. */
export async function imageOfCopy(
  db: Executor,
  copy: Copy,
  medium: typeof media.$inferSelect,
  packed: boolean,
  names: UniqueNames,
): Promise<OutgoingFiles> {
  const { code, form } = medium;
  const out = { code, packed, names };
  const source = await blobSource(db, copy.imageBlob);
  const writtenAs = nameOf(out, imageName(code, form));
  const sidecarAs = copy.sidecarBlob ? names.pathOf(`${fileNameOfCode(code)}.sidecar.json`) : null;
  const ofDisc = await discParts(db, copy, out);
  async function* members(): AsyncGenerator<ZipMember> {
    yield {
      name: writtenAs,
      modified: null,
      stored: packed,
      bytes: imageBytes(source, packed, () => streamBlob(db, copy.imageBlob)),
    };
    if (sidecarAs)
      yield {
        name: sidecarAs,
        modified: null,
        bytes: (await describedSidecar(db, copy.sidecarBlob!, copy, medium)).stream(),
        beside: true,
      };
    for (const { member } of ofDisc) yield member;
  }
  return {
    count: 1,
    isAlone: packed && ofDisc.length === 0,
    mostMembers: 2 + ofDisc.length,
    bytes: copy.imageBytes + ofDisc.reduce((sum, { bytes }) => sum + bytes, 0),
    members,
    manifest: {
      format: 'frail-spindle-extract',
      version: 1,
      medium: code,
      image: { writtenAs, sha256: copy.imageSha256, bytes: copy.imageBytes, packed },
      sidecar: sidecarAs,
      disc: ofDisc.map(({ member: { name }, bytes }) => ({ writtenAs: name, bytes })),
    },
  };
}

/** What packing would make of these copies, by samples; how many of all were looked at. */
export async function packingOf(db: Executor, ids: readonly number[]) {
  const rows = await db
    .select({ imageBlob: fairCopies.imageBlob })
    .from(fairCopies)
    .where(inArray(fairCopies.id, ids.slice(0, MAX_TRIED)));
  let [bytes, packed, sampled] = [0, 0, 0];
  const started = performance.now();
  for (const { imageBlob } of rows) {
    const trial = await tryPacking(await blobSource(db, imageBlob), nodeDeflater);
    bytes += trial.bytes;
    packed += trial.bytes * trial.packedShare;
    sampled += trial.sampled;
  }
  return {
    copies: rows.length,
    bytes,
    packedBytes: Math.round(packed),
    seconds: sampled === 0 ? 0 : ((performance.now() - started) / 1000) * (bytes / sampled),
  };
}
