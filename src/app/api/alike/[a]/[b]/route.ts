import { route } from '@/server/http/respond';
import { sideBySide } from '@/server/services/side-by-side';

export const dynamic = 'force-dynamic';
export const GET = route<{ a: string; b: string }>(({ params, db }) =>
  sideBySide(db, params.a, params.b),
);
