/**
 * What a person reads in a file: a program's listing, or its text in the usual character set of its
 * file system.
 */
import { listBasic } from '../listing/basic';
import { textOf } from '../scan/text';

/** Files above this are not read as text. */
export const TRANSCRIPT_LIMIT = 4 << 20;

/** Text with line ends of today; null where there is nothing to read. */
export function transcriptOf(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): string | null {
  if (bytes.length === 0 || bytes.length > TRANSCRIPT_LIMIT) return null;
  return listBasic(bytes, filesystem, type)?.text ?? textOf(bytes, filesystem);
}
