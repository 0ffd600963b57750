import { route } from '@/server/http/respond';
import { BlankQuestion, blankImages } from '@/server/services/blanks';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  blankImages(db, BlankQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
