import { route } from '@/server/features/operators/route';
import { listAlike } from '@/server/features/holdings/alike';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listAlike(db));
