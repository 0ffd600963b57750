import { route } from '@/server/features/operators/route';
import { storeRoom } from '@/server/platform/blobs/store-room';

export const dynamic = 'force-dynamic';
export const GET = route(() => storeRoom());
