/** Files of a fair copy that are sounds themselves, as rows of the list of all sounds. */
import { and, eq, gt } from 'drizzle-orm';
import { toHex } from '@/core/digester';
import { TIMES_IMAGE } from '@/core/sound/digested-sounds';
import { readSound } from '@/core/sound/read-sound';
import { CENTS_A_NOTE, MOST_VALUE } from '@/core/sound/sound';
import { SoundRefusal, type SoundFile } from '@/core/sound/sound-file';
import { plainData } from '@/core/sound/wav/plain-data';
import { nodeDigester } from '@/node/digester';
import { collect } from '@/core/volume/volume';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { LISTEN_BYTES, available, streamFile } from '../copies/downloads';
import { files, volumes, type fairCopies } from '../copies/tables';
import { areSoundFiles } from './queries';
import { MOST_RATE, type sounds } from './tables';

type NewSound = typeof sounds.$inferInsert;
type FileRow = typeof files.$inferSelect;
type Copy = Pick<typeof fairCopies.$inferSelect, 'id' | 'imageBlob' | 'imageBytes'>;

const FILES_AT_ONCE = 200;

/** Null of what is no sound after all, or is hurt: the page of its copy says what it is. */
function soundIn(bytes: Uint8Array): SoundFile | null {
  try {
    return readSound(bytes);
  } catch (error) {
    if (error instanceof SoundRefusal) return null;
    throw error;
  }
}

/** The note at which it sounds as recorded; null of what is none. */
function rootOf({ soundsAt }: SoundFile): number | null {
  const note = soundsAt === null ? -1 : Math.round(soundsAt / CENTS_A_NOTE);
  return note >= 0 && note <= MOST_VALUE ? note : null;
}

const digestOf = (sound: SoundFile): string => toHex(nodeDigester.sha256(plainData(sound)));

function rowOf(fairCopyId: number, { id, path, doubts }: FileRow, sound: SoundFile): NewSound {
  const parts = path.split('/');
  const isCut = sound.remarks.some(({ code }) => code === 'sound.dataIsCut');
  return {
    fairCopyId,
    fileId: id,
    folder: sanitizeText(parts.slice(0, -1).join(' / ')),
    name: sanitizeText(parts.at(-1)!),
    seconds: sound.frames / sound.rateHz,
    rateHz: sound.rateHz,
    rootNote: rootOf(sound),
    isLooped: sound.loops.length > 0,
    pcmSha256: isCut || doubts.length > 0 ? null : digestOf(sound),
    listed: null,
  };
}

/** A file's bytes; null of what is not there, is longer than what is heard, or was read enough of. */
function bytesToRead(file: FileRow, left: number): number | null {
  const bytes = file.recoverable === 'none' ? null : available(file);
  return bytes !== null && bytes <= Math.min(LISTEN_BYTES, left) ? bytes : null;
}

/** Null where nobody wants them any more. */
export async function fileRows(
  db: Executor,
  { id, imageBlob, imageBytes }: Copy,
  signal: AbortSignal,
): Promise<NewSound[] | null> {
  const rows: NewSound[] = [];
  let left = TIMES_IMAGE * imageBytes;
  for (let last = 0; ;) {
    const some = await db
      .select({ file: files, base: volumes.offset })
      .from(files)
      .innerJoin(volumes, eq(volumes.id, files.volumeId))
      .where(and(areSoundFiles(id), gt(files.id, last)))
      .orderBy(files.id)
      .limit(FILES_AT_ONCE);
    for (const { file, base } of some) {
      if (signal.aborted) return null;
      const bytes = bytesToRead(file, left);
      if (bytes === null) continue;
      left -= bytes;
      const sound = soundIn(await collect(streamFile(db, imageBlob, base, file)));
      if (sound && sound.rateHz <= MOST_RATE) rows.push(rowOf(id, file, sound));
    }
    if (some.length < FILES_AT_ONCE) return rows;
    last = some.at(-1)!.file.id;
  }
}
