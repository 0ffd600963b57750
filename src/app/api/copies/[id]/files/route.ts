import { EntriesQuestion, listEntries } from '@/server/features/copies/listing';
import { route } from '@/server/features/operators/route';
import { rowId } from '@/server/platform/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, db, params }) =>
  listEntries(
    db,
    rowId(params.id),
    EntriesQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
