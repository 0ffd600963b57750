import { notFound } from '@/server/errors';
import { route } from '@/server/http/respond';
import { layoutFile, removeLayout } from '@/server/services/layouts';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async ({ db, params }) => {
  const file = await layoutFile(db, params.id);
  if (!file) throw notFound('such layout');
  return new Response(`${JSON.stringify(file, null, 1)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': `attachment; filename="${params.id.replace(/[^a-z0-9+.-]/g, '_')}.layout.json"`,
      'x-content-type-options': 'nosniff',
    },
  });
});
export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removeLayout(db, await operator(), params.id),
);
