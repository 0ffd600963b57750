/** A way of two steps: a carrier for what goes over a line. */
import { tell } from '@/messages/tell';
import { eq } from 'drizzle-orm';
import { z } from 'zod';
import { BLANK_NAMES } from '@/messages/names';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import type { Database } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { refuseHeld } from '../rights/holds';
import { refuseQuarantined } from '../signatures/signatures';
import { type Outcome, wishFor, addFiles } from './gather-files';
import { startAssembly, changing, discard } from './assemblies';
import { said } from '@/core/said';

export const NewRoute = z.object({ copyId: z.int().min(1), kind: z.string().max(40) });

/**
 * A way of two steps: an image as a file on a larger volume that the far machine reads, to be
 * unpacked there. Gives the assembly that carries it.
 */
export async function startRoute(
  db: Database,
  operatorId: number,
  input: z.output<typeof NewRoute>,
): Promise<{ id: number; name: string }> {
  const [row] = await db
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, input.copyId));
  if (!row) throw notFound(said('assemblies.suchImage'));
  const { fair_copies: copy, media: medium } = row;
  await refuseQuarantined(db, copy.id, false);
  await refuseHeld(db, [medium.id], operatorId);
  const carrier = BLANK_KINDS.find(({ id }) => id === input.kind);
  if (!carrier) throw notFound(said('assemblies.suchKindOfBlank'));
  if (copy.imageBytes >= carrier.bytes)
    throw new UserError(
      said('assemblies.theImageOfHas', {
        code: medium.code,
        imageBytes: copy.imageBytes,
        title: BLANK_NAMES[carrier.id],
      }),
      409,
    );
  const { id } = await startAssembly(db, operatorId, {
    title: tell(
      said('assemblies.asAFileOn', { code: medium.code, title: BLANK_NAMES[carrier.id] }),
    ).slice(0, 200),
    kind: input.kind,
  });
  const outcome = await putImage(db, id, medium, copy);
  const [put] = outcome.put;
  if (!put) {
    await discard(db, id);
    throw new UserError(
      said('assemblies.nothingWasBegunChoose', {
        why: outcome.left[0]?.why ?? said('assemblies.itDoesNotFit'),
      }),
      409,
    );
  }
  return { id, name: put.path };
}

async function putImage(
  db: Database,
  id: number,
  medium: typeof media.$inferSelect,
  copy: typeof fairCopies.$inferSelect,
) {
  return await changing(db, id, async (open) => {
    const outcome: Outcome = { put: [], left: [] };
    const wish = await wishFor(
      db,
      open.volume.filesystem,
      `${medium.code.replace('-', '')}.IMG`,
      { filesystem: null },
      {
        kind: 'put',
        source: `blob:${copy.imageBlob}`,
        bytes: copy.imageBytes,
        from: said('assemblies.imageOf', { code: medium.code }),
        modified: null,
      },
    );
    return { edits: await addFiles(db, open, '', [wish], outcome), result: outcome };
  });
}
