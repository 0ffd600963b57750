import { allParcels } from '@/server/features/bags/all-parcels';
import { route } from '@/server/features/operators/route';
import { NewParcel } from '@/server/features/parcels/new-parcel';
import { makeParcel } from '@/server/features/parcels/parcels';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => allParcels(db));
export const POST = route(async ({ request, db, operator }) =>
  makeParcel(db, await operator(), NewParcel.parse(await jsonOf(request))),
);
