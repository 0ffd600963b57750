/** Files of a fair copy that are sounds themselves, as rows of the list of all sounds. */
import { createHash } from 'node:crypto';
import { readSound } from '@/core/sound/read-sound';
import { CENTS_A_NOTE, MOST_VALUE } from '@/core/sound/sound';
import { SoundRefusal, type SoundFile } from '@/core/sound/sound-file';
import { plainData } from '@/core/sound/wav/plain-data';
import { collect } from '@/core/volume/volume';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { LISTEN_BYTES, available, streamFile } from '../copies/downloads';
import type { fairCopies, files } from '../copies/tables';
import { soundFiles } from './queries';
import type { sounds } from './tables';

type NewSound = typeof sounds.$inferInsert;
type FileRow = typeof files.$inferSelect;

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

const digestOf = (sound: SoundFile): string =>
  createHash('sha256').update(plainData(sound)).digest('hex');

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

/** Null where nobody wants them any more. */
export async function fileRows(
  db: Executor,
  { id, imageBlob }: Pick<typeof fairCopies.$inferSelect, 'id' | 'imageBlob'>,
  signal: AbortSignal,
): Promise<NewSound[] | null> {
  const rows: NewSound[] = [];
  for (const { file, base } of await soundFiles(db, id)) {
    if (signal.aborted) return null;
    const bytes = available(file);
    if (bytes === null || bytes > LISTEN_BYTES || file.recoverable === 'none') continue;
    const sound = soundIn(await collect(streamFile(db, imageBlob, base, file)));
    if (sound) rows.push(rowOf(id, file, sound));
  }
  return rows;
}
