/** One sample as a WAV, from the row that its copy was gone through for: nothing is listed anew. */
import { eq } from 'drizzle-orm';
import { said } from '@/core/said';
import { frameBytesOf } from '@/core/sound/sound';
import { sampleWav } from '@/core/sound/wav/sample-wav';
import { safeName } from '@/core/volume/safe-name';
import type { Database } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { download } from '@/server/platform/http/respond';
import { findFile, streamFile } from '../copies/downloads';
import { refuseQuarantined } from '../signatures/signatures';
import { sounds } from './tables';

/** The bytes of a stream from one place up to another. */
async function* between(
  parts: AsyncIterable<Uint8Array>,
  from: number,
  to: number,
): AsyncGenerator<Uint8Array> {
  let at = 0;
  for await (const part of parts) {
    const piece = part.subarray(Math.max(0, from - at), Math.max(0, to - at));
    at += part.length;
    if (piece.length > 0) yield piece;
  }
}

export async function soundAsWav(
  db: Database,
  fileId: number,
  acknowledgesQuarantine: boolean,
): Promise<Response> {
  const { file, image, base, copyId } = await findFile(db, fileId);
  await refuseQuarantined(db, copyId, acknowledgesQuarantine);
  const [row] = await db.select().from(sounds).where(eq(sounds.fileId, fileId));
  if (!row) throw notFound(said('copies.soundInThisFile'));
  const { listed } = row;
  const { head, tail } = sampleWav(listed);
  const end = listed.headerBytes + listed.frames * frameBytesOf(listed);
  async function* wav() {
    yield head;
    yield* between(streamFile(db, image, base, file), listed.headerBytes, end);
    yield tail;
  }
  const bytes = head.length + end - listed.headerBytes + tail.length;
  return download(wav(), safeName(`${listed.name}.wav`), bytes, 'audio/wav');
}
