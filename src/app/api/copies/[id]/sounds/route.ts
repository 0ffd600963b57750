import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { soundsOfCopy } from '@/server/features/sounds/queries';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => soundsOfCopy(db, rowId(params.id)));
