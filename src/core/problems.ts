/**
 * The kinds of problem that parsers report, in one frozen list. A problem never stops the reading
 * of what is sound; it says where (a byte offset where there is one), what, and what follows from it.
 */

import type { Said } from './said';

export const PROBLEM_KINDS = Object.freeze([
  // the flux container
  'header-damaged',
  'reading-invalid',
  'container-gap',
  'container-truncated',
  'container-trailing',
  'digest-mismatch',
  'track-count-mismatch',
  'flux-damaged',
  'not-a-capture',
  // images
  'truncated-image',
  'unknown-format',
  // volumes (the names of the published vectors)
  'cross-linked',
  'lost-chain',
  'loop',
  'out-of-range',
  'directory-loop',
  'directory-damaged',
  'fat-copies-differ',
  'table-damaged',
  'not-closed-cleanly',
  'name-twice',
  'chain-too-short',
  'chain-too-long',
  'bad-clusters',
  'unsafe-name',
  'map-mismatch',
  'descriptor-damaged',
  'too-many-entries',
  'partition-damaged',
  // readings
  'readings-differ',
  'turns-not-weighed',
  // discs (the same)
  'both-endian-mismatch',
  'extent-past-end',
  'path-table-mismatch',
  'truncated',
  'name-too-long',
  'packed-data-damaged',
  'rockridge-damaged',
  'boot-catalog-damaged',
  'multi-extent-broken',
  'extents-overlap',
  'bridge-differs',
  'sectors-out-of-step',
  'sheet-differs',
  'data-behind-volume',
  'udf-tag-checksum',
  'udf-tag-crc',
  'udf-tag-location',
  'udf-anchor-missing',
  'udf-allocation-short',
  // sounds
  'bad-loop',
  'bad-range',
  'missing-sample',
  'sample-cut',
  'sound-header-odd',
] as const);

export type ProblemKind = (typeof PROBLEM_KINDS)[number];

export interface Problem {
  kind: ProblemKind;
  /** One sentence for the archivist. */
  said: Said;
  /** Byte offset in the source, or null where none applies. */
  offset: number | null;
}
