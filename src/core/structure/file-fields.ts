/** What the first bytes of a file are, by its kind: a load address, a sample's header. */
import { LOAD_ADDRESS } from '../volume/d64/records';
import { BLOCK_FILE, PROGRAM_FILE } from '../volume/granule/records';
import type { RecordLayout } from '../volume/record';
import { PROGRAM_HEADER, SAMPLE_HEADER } from '../volume/sampler/records';
import { fieldsOf, type Field } from './structure';

interface FileKind {
  filesystems: readonly string[];
  /** As the volume types it; null where its first byte says enough. */
  type: string | null;
  /** Its first byte; null where any will do. */
  mark: number | null;
  layout: RecordLayout;
}

const FILE_KINDS: readonly FileKind[] = Object.freeze([
  { filesystems: ['d64', 'd71', 'd81'], type: 'PRG', mark: null, layout: LOAD_ADDRESS },
  { filesystems: ['granule'], type: '0', mark: 0xff, layout: PROGRAM_FILE },
  { filesystems: ['granule'], type: '2', mark: 0, layout: BLOCK_FILE },
  { filesystems: ['sampler'], type: null, mark: 3, layout: SAMPLE_HEADER },
  { filesystems: ['sampler'], type: null, mark: 1, layout: PROGRAM_HEADER },
]);

export function fileFields(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Field[] {
  const kind = FILE_KINDS.find(
    (each) =>
      each.filesystems.includes(filesystem) &&
      (each.type === null || each.type === type) &&
      (each.mark === null || each.mark === bytes[0]),
  );
  return kind ? fieldsOf(kind.layout, bytes, 0, 0) : [];
}
