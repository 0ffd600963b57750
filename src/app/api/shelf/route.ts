import { shelfItems } from '@/server/features/stations/drive-hands';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(() => shelfItems());
