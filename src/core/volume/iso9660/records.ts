/** What all of ISO 9660 is read with. */

export const SECTOR = 2048;

export const LIMITS = {
  descriptors: 64,
  directoryBytes: 16 << 20,
  entries: 400_000,
  depth: 64,
  pathTableBytes: 8 << 20,
};

export const ascii = (bytes: Uint8Array) => String.fromCharCode(...bytes);
