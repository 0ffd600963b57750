import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';
import { FoundSounds, takeFound } from '@/server/features/extracts/take-found';
import { heldSounds, SoundsQuestion } from '@/server/features/sounds/held-sounds';

export const dynamic = 'force-dynamic';
/** What is found taken out. */
export const POST = route(async ({ request, db, operator }) =>
  takeFound(db, await operator(), FoundSounds.parse(await jsonOf(request))),
);
export const GET = route(({ request, db }) =>
  heldSounds(db, SoundsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
