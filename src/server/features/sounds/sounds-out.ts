/**
 * The sounds of a fair copy on their way out: WAVs or FLACs, instruments as SFZ, a disc's tracks of
 * sound, and what became of each.
 */
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { ByteSource } from '@/core/bits/byte-source';
import { hasPreEmphasis } from '@/core/optical/disc-tracks';
import { toHex } from '@/core/digester';
import { said, type Said } from '@/core/said';
import { digestedSounds } from '@/core/sound/digested-sounds';
import { soundsIn } from '@/core/sound/sounds-of';
import {
  TakingOut,
  bytesOf,
  chosenOf,
  fileOf,
  type SoundEnding,
  type TakenEntry,
} from '@/core/sound/taken-out';
import type { UniqueNames } from '@/core/volume/unique-names';
import { tell } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { flacOf, flacProgram } from '@/node/flac';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import type { ZipMember } from '@/server/platform/http/zip';
import { rawImage, rawTracksOf, soundPart } from '../copies/disc-parts';
import type { OutgoingFiles } from '../copies/files-of-copy';
import { files, volumes, type fairCopies } from '../copies/tables';
import { rateOf } from './sound-rates';

type Copy = typeof fairCopies.$inferSelect;

/** One file as it goes out; its entry in the manifest is whole behind its last byte. */
interface Outgoing {
  file: string;
  bytes: number;
  isSound: boolean;
  open(): { entry: () => object; bytes: AsyncGenerator<Uint8Array> };
}

const told = (entry: TakenEntry) => ({
  ...entry,
  notCarried: entry.notCarried.map(tell),
});

/** Which of a copy's sounds are wanted, and how. */
interface SoundsAsked {
  isPacked: boolean;
  /** Rows of their files; all where there are none. */
  only: readonly number[] | null;
  /** What is the same is written once. */
  isOnce: boolean;
}

const placeName = (offset: number, position: number) => `${offset}/${position}`;

/** Files by where their volume begins, and by their place in it. */
async function placesOfFiles(db: Executor, copyId: number, ids: readonly number[]) {
  const rows = await db
    .select({ offset: volumes.offset, position: files.position })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .where(
      and(
        eq(volumes.fairCopyId, copyId),
        isNull(volumes.inside),
        isNull(volumes.view),
        inArray(files.id, [...ids]),
      ),
    );
  return new Set(rows.map(({ offset, position }) => placeName(offset, position)));
}

/** What is the same of two samples that one file serves for: their frames, and how they are played. */
async function keysOfSounds(
  source: ByteSource,
  rateHz: number | undefined,
): Promise<Map<string, string>> {
  const keys = new Map<string, string>();
  for await (const { offset, sample, pcmSha256 } of digestedSounds(source, nodeDigester, rateHz)) {
    const { position, rateHz, rootNote, cents, start, end, loops, playback } = sample;
    const played = JSON.stringify([rateHz, rootNote, cents, start, end, loops, playback]);
    if (pcmSha256) keys.set(placeName(offset, position), `${pcmSha256} ${played}`);
  }
  return keys;
}

async function ofVolumes(
  db: Executor,
  { id, mediumId, imageBlob }: Copy,
  { only, isOnce }: SoundsAsked,
  ending: SoundEnding,
) {
  const source = await blobSource(db, imageBlob);
  const rateHz = await rateOf(db, mediumId);
  const { sounding } = await soundsIn(source, rateHz);
  const wanted = only && (await placesOfFiles(db, id, only));
  const keys = isOnce ? await keysOfSounds(source, rateHz) : null;
  const names = new Map(
    sounding.flatMap(({ volume, offset }) =>
      volume.entries.map((entry, position) => [entry, placeName(offset, position)] as const),
    ),
  );
  const takingOut = new TakingOut({
    ending,
    keyOf: ({ entry }) => keys?.get(names.get(entry)!) ?? null,
  });
  const taken = sounding.flatMap(({ volume, sounds }) =>
    sounds.folders
      .map((folder) => (wanted ? chosenOf(folder, (e) => wanted.has(names.get(e)!)) : folder))
      .filter(({ samples, programs }) => samples.length + programs.length > 0)
      .flatMap((folder) => [...takingOut.filesOf(volume, folder)]),
  );
  const outgoing = taken.map((each): Outgoing => ({
    file: each.file,
    bytes: bytesOf(each),
    isSound: each.kind === 'sample',
    open() {
      const { entry, bytes } = fileOf(each, nodeDigester);
      return { entry: () => told(entry), bytes };
    },
  }));
  return { outgoing, shared: takingOut.shared.map(told) };
}

/** A WAV as it passes, with the digest of its frames once all of them did. */
async function* digested(
  wav: AsyncGenerator<Uint8Array>,
  entry: { pcmSha256?: string },
): AsyncGenerator<Uint8Array> {
  const hash = nodeDigester.sha256Stream();
  let isHead = true;
  for await (const piece of wav) {
    if (!isHead) hash.update(piece);
    isHead = false;
    yield piece;
  }
  entry.pcmSha256 = toHex(hash.digest());
}

/** Tracks as they are recorded: what is taken out of them is said, and can be asked for by itself. */
async function ofTracks(db: Executor, copy: Copy, code: string, ending: SoundEnding) {
  const tracks = rawTracksOf(copy);
  const source = tracks.length > 0 ? await rawImage(db, copy) : null;
  return tracks.flatMap((track): Outgoing[] => {
    const part = source && soundPart(source, track, code);
    if (!part) return [];
    const file = part.name.replace(/\.wav$/, ending);
    const entry: { track: number; hasPreEmphasis: boolean; pcmSha256?: string } = {
      track: track.number,
      hasPreEmphasis: hasPreEmphasis(track),
    };
    return [
      {
        file,
        bytes: part.bytes,
        isSound: true,
        open: () => ({ entry: () => entry, bytes: digested(part.stream(), entry) }),
      },
    ];
  });
}

const notPacked = (why: Said): Error => new UserError(why, 500);

/** The program that packs, where that was asked; refuses where it is not there. */
export function packerFor(isPacked: boolean): string | null {
  const program = isPacked ? flacProgram() : null;
  if (isPacked && !program) throw new UserError(said('sound.flacIsNotThere'), 409);
  return program;
}

/** In a folder named for the medium, which another copy of it does not share. */
export async function soundsOut(
  db: Executor,
  copy: Copy,
  code: string,
  { names, ...asked }: SoundsAsked & { names: UniqueNames },
): Promise<OutgoingFiles> {
  const packer = packerFor(asked.isPacked);
  const ending = packer ? '.flac' : '.wav';
  const { outgoing: ownFiles, shared } = await ofVolumes(db, copy, asked, ending);
  const tracks = asked.only ? [] : await ofTracks(db, copy, code, ending);
  const outgoing = [...ownFiles, ...tracks];
  const folder = names.pathOf(code);
  // Of each once its bytes were taken; what is in the file of another has none.
  const entries: object[] = shared.map((each) => ({
    ...each,
    file: `${folder}/${each.file}`,
    isShared: true,
  }));
  async function* members(): AsyncGenerator<ZipMember> {
    for (const { file, isSound, open } of outgoing) {
      const { entry, bytes } = open();
      const name = `${folder}/${file}`;
      const isToPack = packer !== null && isSound;
      yield {
        name,
        modified: null,
        bytes: isToPack ? flacOf(packer, bytes, notPacked) : bytes,
        stored: isToPack,
      };
      entries.push({ ...entry(), file: name });
    }
  }
  return {
    count: outgoing.length,
    isAlone: false,
    mostMembers: outgoing.length,
    bytes: outgoing.reduce((sum, { bytes }) => sum + bytes, 0),
    members,
    manifest: { format: 'frail-spindle-extract', version: 1, medium: code, files: entries },
  };
}
