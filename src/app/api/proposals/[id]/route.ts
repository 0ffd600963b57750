import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { AdoptProposal, adoptProposal } from '@/server/features/copies/settling/said-of-copy';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) =>
  adoptProposal(db, await operator(), rowId(params.id), AdoptProposal.parse(await jsonOf(request))),
);
