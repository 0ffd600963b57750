/** The sounds of a fair copy on their way out: WAVs, instruments as SFZ, and what became of each. */
import { soundsIn } from '@/core/sound/sounds-of';
import { TakingOut, bytesOf, fileOf, type TakenEntry } from '@/core/sound/taken-out';
import type { UniqueNames } from '@/core/volume/unique-names';
import { tell } from '@/messages/tell';
import { nodeDigester } from '@/node/digester';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { ZipMember } from '@/server/platform/http/zip';
import type { OutgoingFiles } from '../copies/files-of-copy';
import type { fairCopies } from '../copies/tables';

const told = (entry: TakenEntry) => ({ ...entry, notCarried: entry.notCarried.map(tell) });

/** In a folder named for the medium, which another copy of it does not share. */
export async function soundsOut(
  db: Executor,
  { imageBlob }: typeof fairCopies.$inferSelect,
  code: string,
  names: UniqueNames,
): Promise<OutgoingFiles> {
  const { sounding } = await soundsIn(await blobSource(db, imageBlob));
  const takingOut = new TakingOut();
  const taken = sounding.flatMap(({ volume, sounds }) =>
    sounds.folders.flatMap((folder) => [...takingOut.filesOf(volume, folder)]),
  );
  const folder = names.pathOf(code);
  // Of each once its bytes were taken.
  const files: object[] = [];
  async function* members(): AsyncGenerator<ZipMember> {
    for (const each of taken) {
      const { entry, bytes } = fileOf(each, nodeDigester);
      entry.file = `${folder}/${entry.file}`;
      yield { name: entry.file, modified: null, bytes };
      files.push(told(entry));
    }
  }
  return {
    count: taken.length,
    isAlone: false,
    mostMembers: taken.length,
    bytes: taken.reduce((sum, each) => sum + bytesOf(each), 0),
    members,
    manifest: { format: 'frail-spindle-extract', version: 1, medium: code, files },
  };
}
