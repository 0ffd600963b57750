import { limitedBody } from '@/server/platform/http/limited-body';
import { route } from '@/server/features/operators/route';
import { INTAKE_LIMIT, IntakeAbout } from '@/server/features/intake/intake';
import { receiveWhole } from '@/server/features/intake/uploads';

/** A small file with one request; `/api/uploads/…` says how its taking in comes out. */
export const dynamic = 'force-dynamic';

export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const about = IntakeAbout.parse(Object.fromEntries(searchParams));
  const who = await operator();
  return receiveWhole(db, who, about, await limitedBody(request, INTAKE_LIMIT));
});
