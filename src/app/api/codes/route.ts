import { z } from 'zod';
import { nextCode } from '@/server/features/media/codes';
import { route } from '@/server/features/operators/route';

const Asked = z.object({ lot: z.string().max(80).default('') });

/** The next free code of a lot, and how codes go on from it; nothing is taken. */
export const GET = route(({ request, db }) => {
  const { lot } = Asked.parse(Object.fromEntries(new URL(request.url).searchParams));
  return nextCode(db, lot);
});
