/** Clusters of a volume as its table chains them, each chain claimed for a name and checked. */
import type { ByteSource } from '@/core/bits/byte-source';
import type { ProblemKind } from '@/core/problems';
import { said, type Said, type Words } from '@/core/said';
import { type ProblemList } from '../extent-volume';
import { joined } from '../extents';
import { collect, streamExtents, type Extent } from '../volume';
import { MOST_TIMES_CROSSED } from '../reading-budget';
import type { FatGeometry } from './boot-sector';
import { BAD, END, FREE, followChain, type Chain, type FatTable } from './table';

export class FatClusters {
  readonly bytes: number;
  private readonly owners: Uint32Array;
  private readonly names = new Map<number, Words>();
  private freeBefore: Uint32Array | null = null;
  /** Clusters that may still be followed as another's too. */
  private crossingsLeft: number;

  constructor(
    private readonly source: ByteSource,
    private readonly geometry: FatGeometry,
    private readonly table: FatTable,
    private readonly problems: ProblemList,
  ) {
    this.bytes = geometry.bytesPerSector * geometry.sectorsPerCluster;
    this.owners = new Uint32Array(table.length);
    this.crossingsLeft = table.length * MOST_TIMES_CROSSED;
  }

  /** Clusters 0 and 1, which are none, counted too. */
  get count(): number {
    return this.table.length;
  }

  /** Free clusters of a run; what lies behind the last cluster is none. */
  freeIn(first: number, count: number): number {
    this.freeBefore ??= runningCount(this.table, (link, cluster) => cluster >= 2 && link === FREE);
    const end = Math.min(first + count, this.table.length);
    const from = Math.min(Math.max(0, first), end);
    return this.freeBefore[end]! - this.freeBefore[from]!;
  }

  /** Where a run of clusters lies, cut where the source ends. */
  extentOfRun(first: number, count: number): Extent[] {
    const offset = this.offsetOf(first);
    const length = Math.min(count * this.bytes, this.source.size - offset);
    return length > 0 ? [{ offset, length }] : [];
  }

  get freeBytes(): number {
    return this.table.subarray(2).filter((link) => link === FREE).length * this.bytes;
  }

  /** Whose a cluster is; null where it is nobody's, or not of this volume. */
  ownerOf(cluster: number): Words | null {
    return this.names.get(this.owners[cluster] ?? 0) ?? null;
  }

  /**
   * Follows a chain and reports how it ended; `needed` is the clusters that the size asks for, null
   * where it says nothing.
   */
  chain(first: number, name: Words, needed: number | null): Chain {
    const owner = this.names.size + 1;
    this.names.set(owner, name);
    const chain = followChain(this.table, first, this.owners, owner, this.crossingsLeft);
    this.crossingsLeft = Math.max(0, this.crossingsLeft - chain.crossed);
    const last = chain.clusters.at(-1);
    const at = last === undefined ? null : this.offsetOf(last);
    if (chain.end === 'crossed') this.reportCrossed(chain, name, owner);
    else if (chain.end === 'loop' || chain.end === 'out-of-range' || chain.end === 'bad')
      this.reportBroken(chain, name, at);
    else this.reportLength(chain, name, needed, at);
    return chain;
  }

  private reportCrossed(chain: Chain, name: Words, owner: number): void {
    // Where no more may be crossed, the chain ends before it.
    const cluster = chain.clusters.find((each) => this.owners[each] !== owner) ?? chain.last;
    this.report(
      'cross-linked',
      this.offsetOf(cluster),
      said('fat.runsIntoFromThere', {
        name,
        owner: this.ownerOf(cluster) ?? said('fat.anotherFile'),
      }),
    );
  }

  private reportBroken(chain: Chain, name: Words, at: number | null): void {
    const clusters = chain.clusters.length;
    if (chain.end === 'loop')
      this.report('loop', at, said('fat.theChainOfReturns', { name, clusters }));
    else if (chain.end === 'out-of-range')
      this.report('out-of-range', at, said('fat.theChainOfPoints', { name, last: chain.last }));
    else this.report('bad-clusters', at, said('fat.theChainOfRuns', { name }));
  }

  /** Where a chain ends before or behind what the size asks for. */
  private reportLength(chain: Chain, name: Words, needed: number | null, at: number | null): void {
    const clusters = chain.clusters.length;
    const tooShort = (what: Said) => this.report('chain-too-short', at, what);
    if (chain.end === 'free' && clusters > 0)
      tooShort(said('fat.theChainOfRunsInto', { name, clusters }));
    else if (chain.end === 'free') {
      if (needed !== 0) tooShort(said('fat.hasASizeBut', { name }));
    } else if (needed !== null && clusters < needed)
      tooShort(said('fat.needsClustersItsChain', { name, needed, clusters }));
    else if (needed !== null && clusters > needed)
      this.report(
        'chain-too-long',
        at,
        said('fat.needsClustersItsChainHas', { name, needed, clusters }),
      );
  }

  /**
   * Whether a chain from `first` is marked in use up to its end, is nobody's so far, and is as long
   * as `needed`; null for any length.
   */
  isUnclaimedChain(first: number, needed: number | null): boolean {
    let count = 0;
    for (let cluster = first; cluster < END; cluster = this.table[cluster]!, count++) {
      const isThere = cluster >= 2 && cluster < this.table.length;
      if (!isThere || this.owners[cluster] !== 0 || count > this.table.length) return false;
      if (this.table[cluster] === FREE) return false;
    }
    return count > 0 && (needed === null || needed === count);
  }

  /** First clusters of chains that belong to nobody, at most so many. */
  lostChains(most: number): number[] {
    const isFollowed = new Set<number>();
    const lost: number[] = [];
    for (let cluster = 2; cluster < this.table.length; cluster++)
      if (this.isLost(cluster)) {
        lost.push(cluster);
        isFollowed.add(this.table[cluster]!);
      }
    return lost.filter((cluster) => !isFollowed.has(cluster)).slice(0, most);
  }

  private isLost(cluster: number): boolean {
    const link = this.table[cluster]!;
    return cluster >= 2 && link !== FREE && link !== BAD && this.owners[cluster] === 0;
  }

  /** Clusters that are marked in use and belong to nobody. */
  reportLost(): void {
    const first = this.table.findIndex((_, cluster) => this.isLost(cluster));
    if (first < 0) return;
    const lost = this.table.filter((_, cluster) => this.isLost(cluster)).length;
    this.report('lost-chain', this.offsetOf(first), said('fat.clustersAreMarkedIn', { lost }));
  }

  offsetOf(cluster: number): number {
    return this.geometry.dataStart * this.geometry.bytesPerSector + (cluster - 2) * this.bytes;
  }

  /** Byte ranges of the clusters, neighbours joined, cut where the source ends. */
  extentsOf(clusters: readonly number[]): Extent[] {
    const extents: Extent[] = [];
    for (const cluster of clusters) {
      const offset = this.offsetOf(cluster);
      const length = Math.min(this.bytes, this.source.size - offset);
      if (length <= 0) break;
      extents.push({ offset, length });
    }
    return joined(extents);
  }

  read(clusters: readonly number[], limit: number): Promise<Uint8Array> {
    return collect(streamExtents(this.source, { extents: this.extentsOf(clusters), bytes: limit }));
  }

  private report(kind: ProblemKind, offset: number | null, what: Said): void {
    this.problems.report(kind, offset, what);
  }
}

/** Of each entry, for how many before it the test holds; one more for all of them. */
function runningCount(
  table: FatTable,
  test: (link: number, cluster: number) => boolean,
): Uint32Array {
  const counts = new Uint32Array(table.length + 1);
  for (let cluster = 0; cluster < table.length; cluster++)
    counts[cluster + 1] = counts[cluster]! + Number(test(table[cluster]!, cluster));
  return counts;
}
