import { notFound, said } from '@/server/platform/errors';
import { jsonFile } from '@/server/platform/http/answers';
import { route } from '@/server/features/operators/route';
import { layoutFile, removeLayout } from '@/server/features/layouts/layouts';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async ({ db, params }) => {
  const file = await layoutFile(db, params.id);
  if (!file) throw notFound(said('requests.suchLayout'));
  return jsonFile(file, `${params.id}.layout.json`);
});
export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removeLayout(db, await operator(), params.id),
);
