import { route } from '@/server/features/operators/route';
import { listToComplete } from '@/server/features/media/sets';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listToComplete(db));
