import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { describe } from '@/server/features/descriptions/descriptions';
import { DESCRIBED_KINDS, DescriptionChange } from '@/server/features/descriptions/new-description';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const Kind = z.enum(DESCRIBED_KINDS);
export const POST = route<{ kind: string; name: string }>(
  async ({ request, db, params: { kind, name }, operator }) =>
    describe(
      db,
      await operator(),
      Kind.parse(kind),
      name,
      DescriptionChange.parse(await jsonOf(request)),
    ),
);
