import { route } from '@/server/http/respond';
import { docketOf } from '@/server/services/docket';

export const dynamic = 'force-dynamic';
export const GET = route<{ code: string }>(({ params, db }) => docketOf(db, params.code));
