import { route } from '@/server/features/operators/route';
import { sideBySide } from '@/server/features/holdings/side-by-side';

export const dynamic = 'force-dynamic';
export const GET = route<{ a: string; b: string }>(({ params, db }) =>
  sideBySide(db, params.a, params.b),
);
