import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { describe } from '@/server/features/descriptions/descriptions';
import { dublinCoreRecord } from '@/server/features/descriptions/dublin-core-record';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import { OWNER_KINDS } from '@/server/features/media/owners';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const Kind = z.enum(OWNER_KINDS);
/** As a record of Dublin Core. */
export const GET = route<{ kind: string; name: string }>(({ db, params: { kind, name } }) =>
  dublinCoreRecord(db, Kind.parse(kind), name),
);
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
