import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { soundsOfCopy } from '@/server/features/sounds/queries';
import { soundSheet } from '@/server/features/sounds/sound-sheet';

export const dynamic = 'force-dynamic';
/** For the page; with `sheet`, rows to save as `csv` or `json`. */
export const GET = route<{ id: string }>(({ params, db, request }) => {
  const id = rowId(params.id);
  const sheet = new URL(request.url).searchParams.get('sheet');
  return sheet === null ? soundsOfCopy(db, id) : soundSheet(db, id, sheet === 'json');
});
