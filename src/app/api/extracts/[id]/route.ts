import { rowId, type RouteContext } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { protectedDownload } from '@/server/platform/http/protect';
import { cancelExtract, extractBytes } from '@/server/features/extracts/extracts';
import { handOut } from '@/server/features/rights/handing-out';
import { mediaOfExtract } from '@/server/features/rights/media-of';
import { formOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';

async function extractOf(
  context: RouteContext<{ id: string }>,
  headers?: Headers,
): Promise<Response> {
  const { db, params } = context;
  const id = rowId(params.id);
  return handOut(context, await mediaOfExtract(db, id), () => extractBytes(db, id, headers));
}

export const GET = route<{ id: string }>((context) => extractOf(context, context.request.headers));
/** The same under a passphrase: it stands in the body, so that no log keeps it. */
export const POST = route<{ id: string }>(async (context) => {
  await context.operator();
  const form = await formOf(context.request);
  return protectedDownload(await extractOf(context), form);
});
export const DELETE = route<{ id: string }>(async ({ params, db, operator }) => {
  await operator();
  await cancelExtract(db, rowId(params.id));
});
