/**
 * A bag as it came (BagIt, RFC 8493; older versions of the format as well): what declares it, what
 * its lists say, and where they and its files do not agree. Digests are compared by whoever reads the
 * files.
 */

/** Algorithms of manifests, as they are named in them, strongest first. */
export const READ_ALGORITHMS = Object.freeze([
  'sha512',
  'sha384',
  'sha256',
  'sha224',
  'sha1',
  'md5',
] as const);
export type ReadAlgorithm = (typeof READ_ALGORITHMS)[number];

export interface BagProblem {
  kind:
    | 'undeclared'
    | 'no-manifest'
    | 'manifest-unread'
    | 'missing'
    | 'unlisted'
    | 'unsafe-path'
    | 'listed-twice'
    | 'differs'
    | 'other-length';
  /** In the bag, or what the length should be. */
  path: string;
}

/** One list: the digest of each path, in lower case. */
export interface BagManifest {
  algorithm: ReadAlgorithm;
  /** Of tag files and not of the payload. */
  isOfTags: boolean;
  digests: Map<string, string>;
}

export interface BagInfo {
  label: string;
  value: string;
}

const DECLARATION =
  /^\uFEFF?BagIt-Version: ?(\d+\.\d+)\r?\n(?:Tag-File-Character-Encoding: ?(\S+))\s*$/;

/** The version and the encoding of tag files; null where it declares none. */
export function declarationIn(bytes: Uint8Array): { version: string; encoding: string } | null {
  const [, version, encoding] = DECLARATION.exec(new TextDecoder().decode(bytes)) ?? [];
  return version && encoding ? { version, encoding } : null;
}

/** Labels in their order; a line that begins with a space goes on with the one before. */
export function bagInfoIn(text: string): BagInfo[] {
  const told: BagInfo[] = [];
  for (const line of text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)) {
    const last = told.at(-1);
    const colon = line.indexOf(':');
    if (/^[ \t]/.test(line) && last) last.value = `${last.value} ${line.trim()}`.trim();
    else if (colon > 0)
      told.push({ label: line.slice(0, colon).trim(), value: line.slice(colon + 1).trim() });
  }
  return told;
}

const DECODED: Readonly<Record<string, string>> = { '0A': '\n', '0D': '\r', '25': '%' };

/** A path as a manifest has it, decoded (2.1.3) and without a leading `./`. */
const pathIn = (text: string): string =>
  text
    .replace(/^(\.\/)+/, '')
    .replace(/%(0A|0D|25)/gi, (whole, code: string) => DECODED[code.toUpperCase()] ?? whole);

/** One that leads out of the bag, on some system. */
export const isUnsafePath = (path: string): boolean =>
  path === '' ||
  /^[/\\~]|^[A-Za-z]:[/\\]|\0/.test(path) ||
  path.split(/[/\\]/).some((part) => part === '..');

const NAME = /^(tag)?manifest-([a-z0-9-]+)\.txt$/i;

/** The algorithm in a manifest's name; null of one that is not known, undefined of another file. */
export function manifestNamed(
  name: string,
): { algorithm: ReadAlgorithm; isOfTags: boolean } | null | undefined {
  const [whole, tag, written] = NAME.exec(name) ?? [];
  if (!whole) return undefined;
  const algorithm = READ_ALGORITHMS.find(
    (each) => each === written!.toLowerCase().replace('-', ''),
  );
  return algorithm ? { algorithm, isOfTags: tag !== undefined } : null;
}

export function manifestIn(
  text: string,
  named: { algorithm: ReadAlgorithm; isOfTags: boolean },
): { manifest: BagManifest; problems: BagProblem[] } {
  const digests = new Map<string, string>();
  const problems: BagProblem[] = [];
  for (const line of text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/)) {
    if (line.trim() === '') continue;
    const [, digest, written] = /^([0-9a-f]+)[ \t]+\*?(.+)$/i.exec(line) ?? [];
    const path = pathIn(written ?? '');
    if (digest === undefined) problems.push({ kind: 'manifest-unread', path: line.slice(0, 80) });
    else if (isUnsafePath(path)) problems.push({ kind: 'unsafe-path', path });
    else if (digests.has(path)) problems.push({ kind: 'listed-twice', path });
    else digests.set(path, digest.toLowerCase());
  }
  return { manifest: { ...named, digests }, problems };
}

/** `Payload-Oxum`: octets and files; null where it is not said or not so. */
export function oxumIn(info: readonly BagInfo[]): { bytes: number; files: number } | null {
  const said = info.find(({ label }) => label.toLowerCase() === 'payload-oxum');
  const [, bytes, files] = /^(\d{1,15})\.(\d{1,15})$/.exec(said?.value ?? '') ?? [];
  return bytes !== undefined ? { bytes: Number(bytes), files: Number(files) } : null;
}

interface ListedBag {
  version: string;
  manifests: readonly BagManifest[];
  /** Paths and lengths of every file in the bag. */
  files: ReadonlyMap<string, number>;
  info: readonly BagInfo[];
}

/** Where lists and files do not agree, before any digest is worked out. */
export function completenessOf({ version, manifests, files, info }: ListedBag): BagProblem[] {
  const problems: BagProblem[] = [];
  const ofPayload = manifests.filter(({ isOfTags }) => !isOfTags);
  const payload = [...files.keys()].filter((path) => path.startsWith('data/'));
  if (ofPayload.length === 0) problems.push({ kind: 'no-manifest', path: '' });
  for (const { digests } of manifests)
    for (const path of digests.keys())
      if (!files.has(path)) problems.push({ kind: 'missing', path });
  // From version 1.0 on each manifest lists all (2.1.3); before, one of them had to.
  const isEach = Number(version) >= 1;
  for (const path of payload) {
    const isIn = ofPayload.map(({ digests }) => digests.has(path));
    const isListed = isEach ? isIn.every(Boolean) : isIn.some(Boolean);
    if (!isListed && ofPayload.length > 0) problems.push({ kind: 'unlisted', path });
  }
  const oxum = oxumIn(info);
  const bytes = payload.reduce((sum, path) => sum + files.get(path)!, 0);
  if (oxum && (oxum.bytes !== bytes || oxum.files !== payload.length))
    problems.push({ kind: 'other-length', path: `${oxum.bytes}.${oxum.files}` });
  return problems;
}
