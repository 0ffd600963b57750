import { sharedHub } from '@/server/platform/events';
import { eventStream } from '@/server/platform/http/event-stream';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request }) =>
  eventStream((onEvent) => sharedHub().subscribe(onEvent), request.signal),
);
