/**
 * The sounds of a fair copy on their way out: WAVs or FLACs, instruments as SFZ, a disc's tracks of
 * sound, and what became of each.
 */
import { hasPreEmphasis } from '@/core/optical/disc-tracks';
import { toHex } from '@/core/digester';
import { said, type Said } from '@/core/said';
import { soundsIn } from '@/core/sound/sounds-of';
import {
  TakingOut,
  bytesOf,
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
import type { fairCopies } from '../copies/tables';

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

async function ofVolumes(db: Executor, { imageBlob }: Copy, ending: SoundEnding) {
  const { sounding } = await soundsIn(await blobSource(db, imageBlob));
  const takingOut = new TakingOut(ending);
  const taken = sounding.flatMap(({ volume, sounds }) =>
    sounds.folders.flatMap((folder) => [...takingOut.filesOf(volume, folder)]),
  );
  return taken.map((each): Outgoing => ({
    file: each.file,
    bytes: bytesOf(each),
    isSound: each.kind === 'sample',
    open() {
      const { entry, bytes } = fileOf(each, nodeDigester);
      return { entry: () => told(entry), bytes };
    },
  }));
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
  { isPacked, names }: { isPacked: boolean; names: UniqueNames },
): Promise<OutgoingFiles> {
  const packer = packerFor(isPacked);
  const ending = packer ? '.flac' : '.wav';
  const outgoing = [
    ...(await ofVolumes(db, copy, ending)),
    ...(await ofTracks(db, copy, code, ending)),
  ];
  const folder = names.pathOf(code);
  // Of each once its bytes were taken.
  const files: object[] = [];
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
      files.push({ ...entry(), file: name });
    }
  }
  return {
    count: outgoing.length,
    isAlone: false,
    mostMembers: outgoing.length,
    bytes: outgoing.reduce((sum, { bytes }) => sum + bytes, 0),
    members,
    manifest: { format: 'frail-spindle-extract', version: 1, medium: code, files },
  };
}
