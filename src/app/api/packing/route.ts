/** What packing these copies would save, by samples, before it is done. */
import { z } from 'zod';
import { route } from '@/server/http/respond';
import { MOST_TRIED, packingOf } from '@/server/services/image-of-copy';

export const dynamic = 'force-dynamic';
export const POST = route(async ({ db, request }) =>
  packingOf(
    db,
    z
      .object({
        copies: z
          .array(z.int().min(1))
          .min(1)
          .max(MOST_TRIED, `At most ${MOST_TRIED} copies are tried at once; choose fewer.`),
      })
      .parse(await request.json()).copies,
  ),
);
