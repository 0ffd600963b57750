import { listToComplete } from '@/server/features/media/to-complete';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  listToComplete(db, Object.fromEntries(new URL(request.url).searchParams)),
);
