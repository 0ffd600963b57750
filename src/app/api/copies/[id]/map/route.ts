import { route, rowId } from '@/server/http/respond';
import { imageMap } from '@/server/services/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => imageMap(db, rowId(params.id)));
