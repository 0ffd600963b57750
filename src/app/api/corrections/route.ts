import { correctMedia, previewCorrections } from '@/server/features/media/corrections';
import { ManyCorrections } from '@/server/features/media/many-corrections';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
/** Of many media: what would change; and, of what was seen, all of it. */
export const POST = route(async ({ request, db, operator }) => {
  const who = await operator();
  const { media, seen } = ManyCorrections.parse(await jsonOf(request));
  return seen === null ? previewCorrections(db, media) : correctMedia(db, who, media, seen);
});
