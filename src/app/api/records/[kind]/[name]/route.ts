import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { recordPage } from '@/server/features/descriptions/record-pages';

export const dynamic = 'force-dynamic';
const Kind = z.enum(['lots', 'sets']);
export const GET = route<{ kind: string; name: string }>(({ db, params }) =>
  recordPage(db, Kind.parse(params.kind), params.name),
);
