import { route } from '@/server/features/operators/route';
import { mediumDetail } from '@/server/features/holdings/medium-detail';

export const dynamic = 'force-dynamic';
export const GET = route<{ code: string }>(({ params, db }) => mediumDetail(db, params.code));
