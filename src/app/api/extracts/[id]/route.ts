import { route, rowId } from '@/server/http/respond';
import { protectedDownload } from '@/server/protect';
import { cancelExtract, extractBytes } from '@/server/services/extracts';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db, request }) =>
  extractBytes(db, rowId(params.id), request.headers),
);
/** The same under a passphrase: it stands in the body, so that no log keeps it. */
export const POST = route<{ id: string }>(async ({ params, db, request, operator }) => {
  await operator();
  return protectedDownload(await extractBytes(db, rowId(params.id)), await request.formData());
});
export const DELETE = route<{ id: string }>(async ({ params, db, operator }) => {
  await operator();
  await cancelExtract(db, rowId(params.id));
});
