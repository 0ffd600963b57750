import { route } from '@/server/http/respond';
import { listAlike } from '@/server/services/alike';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listAlike(db));
