import { shelfItems } from '@/server/services/stations';
import { route } from '@/server/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route(() => shelfItems());
