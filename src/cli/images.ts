/** Images as the commands take them: known by size and content, or as the caller says. */
import { said } from '@/core/said';
import { imageCandidates, type ImageKind, type SectorImage } from '@/core/image/kinds';
import type { Layout } from '@/core/layout/layout';
import { bytesOf } from '@/core/layout/layout';
import { imageKind } from './commands/decode';
import { readWhole } from './files';
import { JobError } from './usage';

export interface OpenOptions {
  /** The layout that it must follow. */
  layout?: Layout | null;
  /** The kind that the caller says it is. */
  as?: string;
}

/** Whether an image found to be of one kind may be what is asked for; `dsk` names two of them. */
const isOfKind = (found: string, kind: ImageKind | null): boolean =>
  !kind || found === kind || (kind === 'dsk' && (found === 'img' || found === 'do'));

function nothingFits(
  name: string,
  bytes: Uint8Array,
  all: readonly SectorImage[],
  { kind, layout }: { kind: ImageKind | null; layout: Layout | null },
): JobError {
  if (!kind)
    return new JobError(
      said('ofImages.isNoImageOfThe', {
        path: name,
        bytes: bytes.length,
        layout: layout?.id ?? '',
      }),
    );
  const kinds = [...new Set(all.map((image) => image.kind))];
  const wanted = layout ? said('ofImages.withTheLayout', { kind, layout: layout.id }) : kind;
  return new JobError(
    said('ofImages.cantBeOfKind', { path: name, kind: wanted, bytes: bytes.length, kinds }),
  );
}

/** What `bytes` hold as an image; refuses with a sentence where that is in doubt. */
export function imageOf(
  name: string,
  bytes: Uint8Array,
  { layout = null, as }: OpenOptions = {},
): SectorImage {
  const kind = as === undefined ? null : imageKind(as);
  const all = imageCandidates(bytes);
  const fitting = all.filter(
    (image) => isOfKind(image.kind, kind) && (!layout || image.layout?.id === layout.id),
  );
  if (fitting.length === 0 && layout && isOfKind('img', kind) && bytes.length === bytesOf(layout))
    fitting.push({ kind: 'img', layout, bytes, status: null });
  const [first] = fitting;
  if (!first) throw nothingFits(name, bytes, all, { kind, layout });
  if (first.layout === null && bytes.length % 512 !== 0)
    throw new JobError(said('ofImages.isNoImage', { path: name, bytes: bytes.length }));
  const kinds = [...new Set(fitting.map((image) => image.kind))];
  if (kinds.length > 1) throw new JobError(said('ofImages.mayBeAnyOf', { path: name, kinds }));
  // Layouts of one size lay out the same bytes; which it is matters only where it is written to a
  // disk.
  return first;
}

export async function openImage(path: string, options: OpenOptions = {}): Promise<SectorImage> {
  return imageOf(path, await readWhole(path), options);
}
