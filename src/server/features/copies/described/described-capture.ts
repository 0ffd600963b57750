/** A flux capture on its way out with what is registered and said of its medium in its header. */
import type { Database } from '@/server/platform/db/database';
import { describedContainer } from '@/core/flux/described-container';
import { said } from '@/core/said';
import { nodeDigester } from '@/node/digester';
import { blobSource, refuseDamaged } from '@/server/platform/blobs/read-blob';
import { UserError } from '@/server/platform/errors';
import { download } from '@/server/platform/http/respond';
import { mediumRecord, recordAsText } from '../../descriptions/medium-record';
import type { media } from '../../media/tables';

/** Throws UserError where the capture is hurt at its ends: what can't be known is not written anew. */
export async function describedCapture(
  db: Database,
  blob: string,
  medium: typeof media.$inferSelect,
  name: string,
): Promise<Response> {
  await refuseDamaged(db, blob);
  const notes = recordAsText(await mediumRecord(db, medium));
  const describing = { label: `${medium.code} ${medium.title}`, ...(notes && { notes }) };
  const described = await describedContainer(await blobSource(db, blob), describing, nodeDigester);
  if (!described) throw new UserError(said('copies.captureIsNotWhole'), 422);
  return download(described.stream(), name, described.size, 'application/octet-stream');
}
