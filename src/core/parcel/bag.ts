/**
 * Tag files of a bag (BagIt 1.0, RFC 8493): what declares it, what tells of it, and the lists of
 * digests that it is checked by.
 */
export const BAG_ALGORITHMS = Object.freeze(['sha256', 'sha512'] as const);
export type BagAlgorithm = (typeof BAG_ALGORITHMS)[number];

/** A file of a bag, by its path in it (`data/SKP-0104/SKP-0104.img`). */
export interface BagFile {
  path: string;
  bytes: number;
  /** Lower-case hexadecimal. */
  digests: Record<BagAlgorithm, string>;
}

export const BAG_DECLARATION = 'BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n';

/** Line ends and the percent sign itself stand encoded in manifests (2.1.3). */
const ENCODED: Readonly<Record<string, string>> = { '%': '%25', '\r': '%0D', '\n': '%0A' };
const pathInManifest = (path: string): string =>
  path.replace(/[%\r\n]/g, (character) => ENCODED[character]!);

/** The manifest of payload files, or of tag files, by one algorithm: a line each, by path. */
export const manifestOf = (files: readonly BagFile[], algorithm: BagAlgorithm): string =>
  files
    .map(({ path, digests }) => `${digests[algorithm]}  ${pathInManifest(path)}\n`)
    .sort((a, b) => (a.slice(a.indexOf(' ')) < b.slice(b.indexOf(' ')) ? -1 : 1))
    .join('');

/** One line each: what is told has no lines of its own. */
const oneLine = (value: string): string =>
  value
    .toWellFormed()
    .replace(/[\0-\x1f\x7f-\x9f\u2028\u2029]+/g, ' ')
    .trim();

/** `bag-info.txt`: labels and values in this order; what says nothing is left out. */
export const bagInfo = (told: readonly (readonly [label: string, value: string])[]): string =>
  told
    .map(([label, value]) => [label, oneLine(value)] as const)
    .filter(([, value]) => value !== '')
    .map(([label, value]) => `${label}: ${value}\n`)
    .join('');

/** `Payload-Oxum`: octets and files of the payload. */
export const payloadOxum = (files: readonly BagFile[]): string =>
  `${files.reduce((sum, { bytes }) => sum + bytes, 0)}.${files.length}`;
