import { route, rowId } from '@/server/http/respond';
import { AdoptProposal, adoptProposal } from '@/server/services/resettle';

export const dynamic = 'force-dynamic';
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) =>
  adoptProposal(db, await operator(), rowId(params.id), AdoptProposal.parse(await request.json())),
);
