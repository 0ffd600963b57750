/** A bag checked as RFC 8493 asks for (3): complete, and every digest of every list as it says. */
import { readAll, type ByteSource } from '@/core/bits/byte-source';
import {
  bagInfoIn,
  completenessOf,
  declarationIn,
  manifestIn,
  manifestNamed,
  READ_ALGORITHMS,
  type BagInfo,
  type BagManifest,
  type BagProblem,
  type ReadAlgorithm,
} from '@/core/parcel/bag-reading';
import { said, type Said } from '@/core/said';
import { UserError } from '@/server/platform/errors';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';
import type { BagFiles } from './bag-files';

const PIECE = 1 << 20;
/** A list of a million files is a fifth of that. */
const MAX_TAG_FILE = 512 << 20;
const MAX_DECLARATION = 4096;
const TOLD = 5;

interface BagWatch {
  signal: AbortSignal;
  /** Bytes whose digests were worked out, of all that are listed. */
  tell(done: number, of: number): Promise<void>;
}

export interface CheckedBag {
  info: BagInfo[];
  manifestSha256: string;
  /** Below `data/`. */
  payload: ReadonlyMap<string, ByteSource>;
  /** Beside it: what a bag may have and need not. */
  tags: ReadonlyMap<string, ByteSource>;
}

function refuse(name: string, problems: readonly BagProblem[]): never {
  const told = problems
    .slice(0, TOLD)
    .map(({ kind, path }): Said => said('bags.problem', { kind, path }));
  throw new UserError(
    said('bags.isNotWhole', { name, problems: told, more: problems.length - told.length }),
    422,
  );
}

const unreadable = (path: string): BagProblem[] => [{ kind: 'manifest-unread', path }];

interface Lists {
  version: string;
  info: BagInfo[];
  manifests: (BagManifest & { path: string })[];
  problems: BagProblem[];
}

/** What declares the bag, and its lists. */
async function listsOf({ files }: BagFiles): Promise<Lists | null> {
  const declared = declarationIn(await files.get('bagit.txt')!.read(0, MAX_DECLARATION));
  if (!declared) return null;
  let decoder: TextDecoder;
  try {
    decoder = new TextDecoder(declared.encoding);
  } catch {
    return null;
  }
  const textOf = async (source: ByteSource | undefined) =>
    decoder.decode(source && (await readAll(source, MAX_TAG_FILE)));
  const info = bagInfoIn(await textOf(files.get('bag-info.txt')));
  const lists: Lists = { version: declared.version, info, manifests: [], problems: [] };
  for (const [path, source] of files) {
    const named = manifestNamed(path);
    // By a digest that nobody here knows nothing can be checked: others stand beside it.
    if (!named) continue;
    if (source.size > MAX_TAG_FILE) lists.problems.push(...unreadable(path));
    else {
      const { manifest, problems } = manifestIn(await textOf(source), named);
      lists.manifests.push({ ...manifest, path });
      lists.problems.push(...problems);
    }
  }
  return lists;
}

/** Digests of a file that are wanted, worked out in one reading. */
async function digestsOf(
  source: ByteSource,
  algorithms: readonly ReadAlgorithm[],
  onPiece: (bytes: number) => Promise<void>,
): Promise<Map<ReadAlgorithm, string>> {
  const hashes = algorithms.map((algorithm) => new ThreadedHash(algorithm));
  try {
    for (let at = 0; at < source.size; at += PIECE) {
      const piece = await source.read(at, PIECE);
      await Promise.all(hashes.map((hash) => hash.update(piece)));
      await onPiece(piece.length);
    }
    const digests = await Promise.all(hashes.map((hash) => hash.digest()));
    return new Map(algorithms.map((algorithm, i) => [algorithm, digests[i]!]));
  } finally {
    for (const hash of hashes) hash.drop();
  }
}

/** What every list says of each path. */
function wantedOf(manifests: readonly BagManifest[]) {
  const wanted = new Map<string, { algorithm: ReadAlgorithm; digest: string }[]>();
  for (const { algorithm, digests } of manifests)
    for (const [path, digest] of digests)
      wanted.set(path, [...(wanted.get(path) ?? []), { algorithm, digest }]);
  return wanted;
}

async function differencesIn(
  { files }: BagFiles,
  manifests: readonly BagManifest[],
  { signal, tell }: BagWatch,
): Promise<BagProblem[]> {
  const problems: BagProblem[] = [];
  const wanted = [...wantedOf(manifests)].filter(([path]) => files.has(path));
  const all = wanted.reduce((sum, [path]) => sum + files.get(path)!.size, 0);
  let done = 0;
  for (const [path, lists] of wanted) {
    const algorithms = [...new Set(lists.map(({ algorithm }) => algorithm))];
    const digests = await digestsOf(files.get(path)!, algorithms, async (bytes) => {
      signal.throwIfAborted();
      await tell((done += bytes), all);
    });
    if (lists.some(({ algorithm, digest }) => digests.get(algorithm) !== digest))
      problems.push({ kind: 'differs', path });
  }
  return problems;
}

/** By which a bag of ours is told from another where it is made, and others by their strongest list. */
const TOLD_BY: readonly ReadAlgorithm[] = ['sha256', ...READ_ALGORITHMS];

async function manifestDigest({ files }: BagFiles, { manifests }: Lists): Promise<string> {
  const [list] = TOLD_BY.flatMap((algorithm) =>
    manifests.filter((each) => !each.isOfTags && each.algorithm === algorithm),
  );
  const digests = await digestsOf(files.get(list!.path)!, ['sha256'], async () => undefined);
  return digests.get('sha256')!;
}

const IS_OF_BAGIT = /^(bagit|bag-info|fetch|(tag)?manifest-[a-z0-9-]+)\.txt$/i;

/** Throws UserError, 422, where it is no whole bag: what is wrong with it, file by file. */
export async function checkBag(name: string, bag: BagFiles, watch: BagWatch): Promise<CheckedBag> {
  if (!bag.isWhole) throw new UserError(said('bags.breaksOff', { name }), 422);
  const lists = await listsOf(bag);
  if (!lists) return refuse(name, [{ kind: 'undeclared', path: 'bagit.txt' }]);
  const { version, info, manifests } = lists;
  const sizes = new Map([...bag.files].map(([path, { size }]) => [path, size]));
  const problems = [
    ...lists.problems,
    ...completenessOf({ version, manifests, files: sizes, info }),
  ];
  if (problems.length > 0) return refuse(name, problems);
  const differences = await differencesIn(bag, manifests, watch);
  if (differences.length > 0) return refuse(name, differences);
  const ofPayload = [...bag.files].filter(([path]) => path.startsWith('data/'));
  const beside = [...bag.files].filter(
    ([path]) => !path.startsWith('data/') && !IS_OF_BAGIT.test(path),
  );
  return {
    info,
    manifestSha256: await manifestDigest(bag, lists),
    payload: new Map(ofPayload.map(([path, source]) => [path.slice('data/'.length), source])),
    tags: new Map(beside),
  };
}
