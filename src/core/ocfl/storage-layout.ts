/**
 * Where an object lies in the store: the registered extension 0004, hashed n-tuple storage layout,
 * with its own defaults. What an object is called stands in its inventory.
 */
export const LAYOUT_EXTENSION = '0004-hashed-n-tuple-storage-layout';

export const LAYOUT_CONFIG = Object.freeze({
  extensionName: LAYOUT_EXTENSION,
  digestAlgorithm: 'sha256',
  tupleSize: 3,
  numberOfTuples: 3,
  shortObjectRoot: false,
});

export const LAYOUT_DECLARED = Object.freeze({
  extension: LAYOUT_EXTENSION,
  description: 'Three levels of three characters of the SHA-256 of the id, then all of it.',
});

/** The folder of an object below the root, by the SHA-256 of its id. */
export function objectFolder(sha256OfId: string): string {
  const { tupleSize, numberOfTuples } = LAYOUT_CONFIG;
  const tuples = Array.from({ length: numberOfTuples }, (_, i) =>
    sha256OfId.slice(i * tupleSize, (i + 1) * tupleSize),
  );
  return [...tuples, sha256OfId].join('/');
}
