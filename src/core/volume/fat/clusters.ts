/** Clusters of a volume as its table chains them, each chain claimed for a name and checked. */
import type { ByteSource } from '@/core/bits/byte-source';
import type { ProblemKind } from '@/core/problems';
import { said, type Said, type Words } from '@/core/said';
import { joined, type ProblemList } from '../extent-volume';
import { collect, streamExtents, type Extent } from '../volume';
import type { FatGeometry } from './boot-sector';
import { BAD, FREE, followChain, type Chain, type FatTable } from './table';

export class FatClusters {
  readonly bytes: number;
  private readonly owners: Uint32Array;
  private readonly names = new Map<number, Words>();

  constructor(
    private readonly source: ByteSource,
    private readonly geometry: FatGeometry,
    private readonly table: FatTable,
    private readonly problems: ProblemList,
  ) {
    this.bytes = geometry.bytesPerSector * geometry.sectorsPerCluster;
    this.owners = new Uint32Array(table.length);
  }

  /** Clusters 0 and 1, which are none, counted too. */
  get count(): number {
    return this.table.length;
  }

  isFree(cluster: number): boolean {
    return this.table[cluster] === FREE;
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
    const chain = followChain(this.table, first, this.owners, owner, this.table.length);
    const last = chain.clusters.at(-1);
    const at = last === undefined ? null : this.offsetOf(last);
    if (chain.end === 'crossed') this.reportCrossed(chain, name, owner);
    else if (chain.end === 'loop' || chain.end === 'out-of-range' || chain.end === 'bad')
      this.reportBroken(chain, name, at);
    else this.reportLength(chain, name, needed, at);
    return chain;
  }

  private reportCrossed(chain: Chain, name: Words, owner: number): void {
    const cluster = chain.clusters.find((each) => this.owners[each] !== owner)!;
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

  /** Clusters that are marked in use and belong to nobody. */
  reportLost(): void {
    const isLost = (link: number, cluster: number) =>
      cluster >= 2 && link !== FREE && link !== BAD && this.owners[cluster] === 0;
    const first = this.table.findIndex(isLost);
    if (first < 0) return;
    const lost = this.table.filter(isLost).length;
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
