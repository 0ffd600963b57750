import { limitedBody } from '@/server/http/limited-body';
import { route } from '@/server/http/respond';
import { INTAKE_LIMIT, takeIn } from '@/server/services/intake';

export const dynamic = 'force-dynamic';

export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const name = (searchParams.get('name') ?? '').slice(0, 255) || 'unnamed';
  const who = await operator();
  return takeIn(db, who, name, await limitedBody(request, INTAKE_LIMIT), searchParams.get('code'));
});
