import { roomView } from '@/server/features/housekeeping/room';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => roomView(db));
