import { z } from 'zod';
import { namedPage } from '@/server/features/descriptions/named-pages';
import { changeNamed, NAMED_KINDS } from '@/server/features/media/named-records';
import { NamedChange } from '@/server/features/media/new-medium';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const Kind = z.enum(NAMED_KINDS);

/** A lender or a machine, with its media. */
export const GET = route<{ kind: string; name: string }>(({ db, params }) =>
  namedPage(db, Kind.parse(params.kind), params.name),
);

export const POST = route<{ kind: string; name: string }>(
  async ({ request, db, params, operator }) => {
    const change = NamedChange.parse(await jsonOf(request));
    return changeNamed(db, await operator(), Kind.parse(params.kind), params.name, change);
  },
);
