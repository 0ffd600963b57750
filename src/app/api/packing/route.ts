/** What packing these copies would save, by samples, before it is done. */
import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { MAX_TRIED, packingOf } from '@/server/features/copies/image-of-copy';
import { say } from '@/messages';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route(async ({ db, request }) =>
  packingOf(
    db,
    z
      .object({
        copies: z
          .array(z.int().min(1))
          .min(1)
          .max(MAX_TRIED, say.forms.atMostCopiesAre({ maxTried: MAX_TRIED })),
      })
      .parse(await jsonOf(request)).copies,
  ),
);
