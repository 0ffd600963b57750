import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { protectedDownload } from '@/server/platform/http/protect';
import { cancelExtract, extractBytes } from '@/server/features/extracts/extracts';
import { formOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db, request }) =>
  extractBytes(db, rowId(params.id), request.headers),
);
/** The same under a passphrase: it stands in the body, so that no log keeps it. */
export const POST = route<{ id: string }>(async ({ params, db, request, operator }) => {
  await operator();
  return protectedDownload(await extractBytes(db, rowId(params.id)), await formOf(request));
});
export const DELETE = route<{ id: string }>(async ({ params, db, operator }) => {
  await operator();
  await cancelExtract(db, rowId(params.id));
});
