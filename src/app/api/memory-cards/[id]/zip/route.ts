import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { cardDownload } from '@/server/features/memory-cards/memory-cards';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => cardDownload(db, rowId(params.id)));
