import { limitedBody } from '@/server/platform/http/limited-body';
import { route } from '@/server/features/operators/route';
import { INTAKE_LIMIT, IntakeAbout, takeIn } from '@/server/features/intake/intake';

export const dynamic = 'force-dynamic';

export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const about = IntakeAbout.parse(Object.fromEntries(searchParams));
  const who = await operator();
  return takeIn(db, who, about, await limitedBody(request, INTAKE_LIMIT));
});
