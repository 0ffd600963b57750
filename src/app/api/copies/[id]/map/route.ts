import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { imageMap } from '@/server/features/copies/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => imageMap(db, rowId(params.id)));
