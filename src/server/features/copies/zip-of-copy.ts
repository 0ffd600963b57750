/** Files of one copy as a ZIP, streamed: all of them, or one folder. */
import { fileNameOfCode } from '@/core/medium-code';
import { UniqueNames } from '@/core/volume/unique-names';
import type { Database } from '@/server/platform/db/database';
import type { fairCopies } from './tables';
import { UserError } from '@/server/platform/errors';
import { download } from '@/server/platform/http/respond';
import { refuseTooMuch, zipOf, type ZipMember } from '@/server/platform/http/zip';
import { filesOfCopy, manifestMember, type Wanted } from './files-of-copy';
import { said } from '@/core/said';

export async function zipOfCopy(
  db: Database,
  copy: typeof fairCopies.$inferSelect,
  code: string,
  wanted: Wanted,
): Promise<Response> {
  const names = new UniqueNames();
  const outgoing = await filesOfCopy(db, copy, code, wanted, names);
  if (outgoing.count === 0)
    throw new UserError(
      wanted.folder
        ? said('copies.thereAreNoFiles', { path: wanted.folder.path })
        : said('copies.noVolumeWasFound', { code }),
      409,
    );
  refuseTooMuch(outgoing.mostMembers, outgoing.bytes);
  async function* members(): AsyncGenerator<ZipMember> {
    yield* outgoing.members();
    yield manifestMember(names.pathOf('manifest.json'), outgoing.manifest);
  }
  return download(
    zipOf(members()),
    `${fileNameOfCode(code)}${wanted.folder ? ` ${wanted.folder.path.split('/').pop()}` : ''}.zip`,
    null,
    'application/zip',
  );
}
