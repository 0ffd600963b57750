import { mediumByCode } from '@/server/features/media/media';
import { route } from '@/server/features/operators/route';
import { NewPermit } from '@/server/features/rights/new-rights';
import { permit, recipientsOf } from '@/server/features/rights/permits';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
/** To whom who is at work may hand it out for now. */
export const GET = route<{ code: string }>(async ({ db, params, operator }) => {
  const { id } = await mediumByCode(db, params.code);
  const recipients = await recipientsOf(db, [id], await operator());
  return { recipient: recipients.get(id) ?? null };
});
/** What is held may leave for a while: to whom and why. */
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  permit(db, await operator(), params.code, NewPermit.parse(await jsonOf(request))),
);
