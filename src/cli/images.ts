/** Images as the commands take them: known by size and content, or as the caller says. */
import { imageCandidates, type SectorImage } from '@/core/image/kinds';
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

/** What `bytes` hold as an image; refuses with a sentence where that is in doubt. */
export function imageOf(
  name: string,
  bytes: Uint8Array,
  { layout = null, as }: OpenOptions = {},
): SectorImage {
  const kind = as === undefined ? null : imageKind(as);
  const all = imageCandidates(bytes);
  let fitting = all.filter(
    (image) =>
      (!kind ||
        image.kind === kind ||
        (kind === 'dsk' && (image.kind === 'img' || image.kind === 'do'))) &&
      (!layout || image.layout?.id === layout.id),
  );
  if (
    fitting.length === 0 &&
    layout &&
    (!kind || kind === 'img' || kind === 'dsk') &&
    bytes.length === bytesOf(layout)
  )
    fitting = [{ kind: 'img', layout, bytes, status: null, because: 'the given layout' }];
  if (fitting.length === 0 && kind)
    throw new JobError(
      `${name} can't be of kind ` +
        `${kind}${layout ? ` with the layout ${layout.id}` : ''}: it has ${bytes.length} ` +
        'bytes and looks like ' +
        `${[...new Set(all.map((image) => image.kind))].join(' or ')}.`,
    );
  if (fitting.length === 0)
    throw new JobError(
      `${name} has ${bytes.length} bytes; that is no image of the layout ${layout?.id ?? ''}.`,
    );
  if (fitting[0]!.layout === null && bytes.length % 512 !== 0)
    throw new JobError(
      `${name} is no image: its ${bytes.length} bytes are no whole number of sectors.`,
    );
  const kinds = [...new Set(fitting.map((image) => image.kind))];
  if (kinds.length > 1)
    throw new JobError(
      `${name} may be ${kinds.join(' or ')}: nothing in it tells. Say which with --as.`,
    );
  // Layouts of one size lay out the same bytes; which it is matters only where it is written to a
  // disk.
  return fitting[0]!;
}

export async function openImage(path: string, options: OpenOptions = {}): Promise<SectorImage> {
  return imageOf(path, await readWhole(path), options);
}
