/** One sample as a WAV, from the row that its copy was gone through for: nothing is listed anew. */
import { eq } from 'drizzle-orm';
import { said } from '@/core/said';
import { streamedWav } from '@/core/sound/wav/sample-wav';
import { safeName } from '@/core/volume/safe-name';
import type { Database } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { download } from '@/server/platform/http/respond';
import { findFile, streamFile } from '../copies/downloads';
import { refuseQuarantined } from '../signatures/signatures';
import { sounds } from './tables';

export async function soundAsWav(
  db: Database,
  fileId: number,
  acknowledgesQuarantine: boolean,
): Promise<Response> {
  const { file, image, base, copyId } = await findFile(db, fileId);
  await refuseQuarantined(db, copyId, acknowledgesQuarantine);
  const [row] = await db.select().from(sounds).where(eq(sounds.fileId, fileId));
  const listed = row?.listed;
  if (!listed) throw notFound(said('copies.soundInThisFile'));
  const volume = {
    stream: (entry: typeof file) => streamFile(db, image, base, entry),
  };
  const { bytes, parts } = streamedWav(volume, { ...listed, entry: file });
  return download(parts, safeName(`${listed.name}.wav`), bytes, 'audio/wav');
}
