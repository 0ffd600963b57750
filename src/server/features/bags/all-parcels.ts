/** Both ways: what was put together for others, and what came from them. */
import type { Executor } from '@/server/platform/db/database';
import { listParcels } from '../parcels/parcels';
import { listCameBags } from './queries';

export const allParcels = async (db: Executor) => ({
  ...(await listParcels(db)),
  came: await listCameBags(db),
});
