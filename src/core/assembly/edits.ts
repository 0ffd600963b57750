/**
 * The edits of an assembly: what was done to a volume, one after the other; doing them again on
 * what it began with makes it anew, so that undoing is leaving out the last.
 */
import { z } from 'zod';
import { writableVolume } from '../identify/writable-volume';
import {
  KEPT_ATTRIBUTES,
  VolumeRefusal,
  type KeptAttribute,
  type WritableVolume,
} from '../volume/writable';
import { isSaid, said, type Said } from '@/core/said';

const path = z.string().min(1).max(1000);
const attributes = {
  type: z.string().max(10).optional(),
  modified: z
    .string()
    .regex(
      /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}$/,
      'A date is written 1987-03-14, or 1987-03-14 09:26:00.',
    )
    .nullable()
    .optional(),
  locked: z.boolean().optional(),
  address: z.int().min(0).max(0xffff).optional(),
};

/** Where a file came from: what is said of it, or the words of an edit made before there were codes. */
const origin = z.union([z.string().max(400), z.custom<Said>(isSaid)]);

export const Edit = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('put'),
    path,
    ...attributes,
    /** What its bytes are known by where they are kept, and how many there are. */
    source: z.string().max(200),
    bytes: z.int().min(0),
    from: origin,
  }),
  z.object({ kind: z.literal('remove'), path }),
  z.object({ kind: z.literal('rename'), path, name: z.string().min(1).max(200) }),
  z.object({ kind: z.literal('folder'), path, modified: attributes.modified }),
  z.object({ kind: z.literal('attributes'), path, ...attributes }),
]);
export type Edit = z.output<typeof Edit>;
export type PutEdit = Extract<Edit, { kind: 'put' }>;

function attributeWords({ locked, type, modified }: Extract<Edit, { kind: 'attributes' }>): Said[] {
  const words: Said[] = [];
  if (locked !== undefined) words.push(said(locked ? 'assembly.locked' : 'assembly.unlocked'));
  if (type) words.push(said('assembly.made', { type }));
  if (modified) words.push(said('assembly.dated', { modified: modified.slice(0, 10) }));
  return words;
}

/** One edit in a few words. */
export function editWords(edit: Edit): Said {
  switch (edit.kind) {
    case 'put':
      return said('assembly.putInFrom', { path: edit.path, from: edit.from });
    case 'remove':
      return said('assembly.takenOff', { path: edit.path });
    case 'rename':
      return said('assembly.renamedTo', { path: edit.path, name: edit.name });
    case 'folder':
      return said('assembly.folderMade', { path: edit.path });
    case 'attributes':
      return said('assembly.attributes', { path: edit.path, changes: attributeWords(edit) });
  }
}

const ATTRIBUTE_WORDS: Record<KeptAttribute, Said> = {
  type: said('assembly.typeWord'),
  modified: said('assembly.dateWord'),
  locked: said('assembly.lockWord'),
  address: said('assembly.addressWord'),
};

/** Makes one edit. Throws VolumeRefusal where the volume can't take it; then nothing is changed. */
export function applyEdit(volume: WritableVolume, edit: Edit, bytes: Uint8Array | null): void {
  switch (edit.kind) {
    case 'put':
      return volume.put(edit.path, bytes!, edit);
    case 'remove':
      return volume.remove(edit.path);
    case 'rename':
      return volume.rename(edit.path, edit.name);
    case 'folder':
      return volume.makeFolder(edit.path, edit);
    case 'attributes': {
      const unkept = KEPT_ATTRIBUTES.find(
        (attribute) => edit[attribute] !== undefined && !volume.keeps.includes(attribute),
      );
      if (unkept)
        throw new VolumeRefusal(
          'kind',
          said('assembly.thisSystemKeepsNo', { attributeWord: ATTRIBUTE_WORDS[unkept] }),
        );
      return volume.setAttributes(edit.path, edit);
    }
  }
}

export interface Assembled {
  image: Uint8Array;
  volume: WritableVolume;
}

/** The bytes that an edit puts, wherever they are kept. */
type BytesOf = (edit: PutEdit) => Promise<Uint8Array>;

/**
 * The volume that the edits make of what it began with, which stays as it is. Throws VolumeRefusal
 * where it is none that can be written.
 */
export async function assemble(
  base: Uint8Array,
  kind: string | null,
  edits: readonly Edit[],
  bytesOf: BytesOf,
): Promise<Assembled> {
  const image = base.slice();
  const volume = await writableVolume(image, kind);
  if (!volume) throw new VolumeRefusal('damaged', said('assembly.noVolumeThatCan'));
  for (const edit of edits)
    applyEdit(volume, edit, edit.kind === 'put' ? await bytesOf(edit) : null);
  return { image, volume };
}
