/** What a family of file systems registers: how it is known, opened, changed and laid open. */
import type { ByteSource } from '../bits/byte-source';
import type { Said } from '../said';
import type { CpmParameters } from './cpm/parameters';
import type { VolumeArea } from './record';
import type { Volume } from './volume';
import type { WritableVolume } from './writable';

/** A file system that the content may be, and what speaks for it. */
export interface VolumeCandidate {
  filesystem: string;
  /** 0 to 1. */
  confidence: number;
  reasons: Said[];
  /** Bytes of the image that it takes. */
  length: number;
  open(): Promise<Volume>;
}

/**
 * The confidence of what is known by the rest of what was lost: enough to be opened, and too little
 * to be written to.
 */
export const OF_WHAT_IS_LEFT = 0.55;

/** What the archivist knows of an image beforehand. */
export interface KnownOfImage {
  cpm?: CpmParameters;
  /**
   * It is a file on a volume: there are many of them, and what has lost its beginning is not
   * searched through for what it may have been.
   */
  isInside?: true;
  /**
   * Read of a device just now: what its own tables say is enough, and nothing is looked for behind
   * its volumes.
   */
  isDevice?: true;
}

export interface VolumeFamily {
  /** The names of its file systems, as kept and shown. */
  filesystems: readonly string[];
  probe(source: ByteSource, known: KnownOfImage): Promise<VolumeCandidate | null>;
  /** The volume of an image, to be changed in place; null where this one can't be. */
  writable?(
    image: Uint8Array,
    filesystem: string,
  ): WritableVolume | null | Promise<WritableVolume | null>;
  /** The parts of a volume that its system keeps for itself. */
  areas?(
    source: ByteSource,
    filesystem: string,
  ): readonly VolumeArea[] | Promise<readonly VolumeArea[]>;
  /** Its disks of 35 × 16 × 256 are imaged in two orders of sectors. */
  isInTwoOrders?: true;
}

/** Evidence as a probe gives it, as a candidate that takes the whole source. */
export function candidate(
  source: ByteSource,
  filesystem: string,
  evidence: { confidence: number; reasons: Said[] } | null,
  open: () => Promise<Volume>,
): VolumeCandidate | null {
  if (!evidence) return null;
  const { confidence, reasons } = evidence;
  return { filesystem, confidence, reasons, length: source.size, open };
}
