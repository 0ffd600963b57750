import { route } from '@/server/features/operators/route';
import { removeRule } from '@/server/features/signatures/signatures';

export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removeRule(db, await operator(), params.id),
);
