import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { OWNER_KINDS } from '@/server/features/media/owners';
import { RightsChange } from '@/server/features/rights/new-rights';
import { changeRights } from '@/server/features/rights/rights';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const Kind = z.enum(OWNER_KINDS);
export const POST = route<{ kind: string; name: string }>(
  async ({ request, db, params: { kind, name }, operator }) =>
    changeRights(
      db,
      await operator(),
      Kind.parse(kind),
      name,
      RightsChange.parse(await jsonOf(request)),
    ),
);
