import { route, rowId } from '@/server/http/respond';
import { cardDownload } from '@/server/services/cards';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => cardDownload(db, rowId(params.id)));
