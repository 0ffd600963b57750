import { route } from '@/server/features/operators/route';
import { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  heldSounds(db, SoundsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
