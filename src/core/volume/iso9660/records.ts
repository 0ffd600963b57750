/** What all of ISO 9660 is read with. */

export const SECTOR = 2048;
/** The sector with which a disc's volume descriptors begin (ECMA-119, clause 6.7.1). */
export const FIRST_DESCRIPTOR = 16;

export const LIMITS = {
  descriptors: 64,
  directoryBytes: 16 << 20,
  entries: 400_000,
  depth: 64,
  pathTableBytes: 8 << 20,
};

export const ascii = (bytes: Uint8Array) => String.fromCharCode(...bytes);

/** A volume descriptor, as far as it leads to a directory. */
export interface Descriptor {
  kind: 'plain' | 'joliet';
  at: number;
  blockBytes: number;
  blocks: number;
  label: string;
  root: Uint8Array;
  pathTable: { bytes: number; block: number; bigBlock: number };
  /** Nothing of it is left: it was worked out from its root. */
  isLost: boolean;
}
