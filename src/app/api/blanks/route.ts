import { route } from '@/server/features/operators/route';
import { BlankQuestion, blankImages } from '@/server/features/assemblies/blanks';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  blankImages(db, BlankQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
