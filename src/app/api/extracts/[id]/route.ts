import { route, rowId } from '@/server/http/respond';
import { cancelExtract, extractBytes } from '@/server/services/extracts';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => extractBytes(db, rowId(params.id)));
export const DELETE = route<{ id: string }>(async ({ params, db, operator }) => {
  await operator();
  await cancelExtract(db, rowId(params.id));
});
