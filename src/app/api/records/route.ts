import { route } from '@/server/features/operators/route';
import { listRecords, RecordsQuestion } from '@/server/features/descriptions/record-lists';

export const dynamic = 'force-dynamic';
export const GET = route(({ db, request }) =>
  listRecords(db, RecordsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
