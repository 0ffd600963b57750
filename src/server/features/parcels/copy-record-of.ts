/** What is known of an image, as it goes along with it. */
import { eq } from 'drizzle-orm';
import { layoutJson } from '@/core/layout/layout-json';
import type { CopyRecord } from '@/core/parcel/copy-record';
import type { Executor } from '@/server/platform/db/database';
import type { fairCopies } from '../copies/tables';
import { layoutOfCopy } from '../layouts/layouts';
import { operators } from '../operators/tables';
import type { Sent } from './payload-file';

type Copy = typeof fairCopies.$inferSelect;

const lastOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** `sent`: what went of the medium, its image among it. */
export async function copyRecordOf(
  db: Executor,
  copy: Copy,
  sent: readonly Sent[],
): Promise<CopyRecord> {
  const nameOf = (part: Sent['part']) => {
    const file = sent.find((each) => each.part === part);
    return file ? lastOf(file.path) : null;
  };
  const [maker] = await db.select().from(operators).where(eq(operators.id, copy.madeBy));
  const layout = await layoutOfCopy(db, copy);
  const { source, sourceName, tally, problems, inDoubt, strange, surface, blocks } = copy;
  return {
    format: 'frail-spindle-copy',
    version: 1,
    image: { name: nameOf('image')!, bytes: copy.imageBytes, sha256: copy.imageSha256 },
    ...{ sidecar: nameOf('sidecar'), capture: nameOf('capture') },
    ...{ source, sourceName, madeBy: maker!.name, madeAt: copy.madeAt.toISOString() },
    layout: layout && (layoutJson(layout) as CopyRecord['layout']),
    ...{ tally, problems, inDoubt, strange, surface, blocks },
  } as CopyRecord;
}
