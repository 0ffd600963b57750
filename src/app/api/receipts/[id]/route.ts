import { route } from '@/server/features/operators/route';
import { showReceipt } from '@/server/features/receipts/receipts';
import { rowId } from '@/server/platform/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => showReceipt(db, rowId(params.id)));
