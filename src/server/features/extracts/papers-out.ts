/** Papers that lie beside a medium, in what is taken out of it; what its whole set shares, once. */
import { fileNameOfCode } from '@/core/medium-code';
import type { UniqueNames } from '@/core/volume/unique-names';
import { safeName } from '@/core/volume/safe-name';
import type { Executor } from '@/server/platform/db/database';
import type { ZipMember } from '@/server/platform/http/zip';
import type { OutgoingFiles } from '../copies/files-of-copy';
import { papersOf, streamPaper } from '../media/papers';
import type { media } from '../media/tables';

/** What is taken out, with its papers behind it. */
export async function withPapers(
  db: Executor,
  files: OutgoingFiles,
  { id, code, setName }: Pick<typeof media.$inferSelect, 'id' | 'code' | 'setName'>,
  { names, taken }: { names: UniqueNames; taken: Set<number> },
): Promise<OutgoingFiles> {
  const papers = (await papersOf(db, { mediumId: id, setName })).filter(
    (paper) => !taken.has(paper.id),
  );
  for (const paper of papers) taken.add(paper.id);
  const out = papers.map((paper) => {
    const folder = paper.own ? fileNameOfCode(code) : safeName(setName!);
    return { paper, writtenAs: names.pathOf(`papers/${folder}/${safeName(paper.name)}`) };
  });
  async function* members(): AsyncGenerator<ZipMember> {
    yield* files.members();
    for (const { paper, writtenAs } of out)
      yield { name: writtenAs, modified: null, bytes: streamPaper(db, paper.id), beside: true };
  }
  return {
    count: files.count,
    isAlone: files.isAlone && out.length === 0,
    mostMembers: files.mostMembers + out.length,
    bytes: files.bytes + papers.reduce((sum, { bytes }) => sum + bytes, 0),
    members,
    manifest: {
      ...files.manifest,
      papers: out.map(({ paper: { name, type, bytes, sha256, own }, writtenAs }) => ({
        writtenAs,
        name,
        type,
        bytes,
        sha256,
        of: own ? 'medium' : 'set',
      })),
    },
  };
}
