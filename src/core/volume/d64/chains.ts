/** Sectors of a `.d64` volume and the chains that lead through them, claimed and checked. */
import type { ProblemKind } from '@/core/problems';
import { said, type Said } from '@/core/said';
import { BlockOwners, type ProblemList } from '../extent-volume';
import type { Extent } from '../volume';
import { SECTOR, blockOf, blocksIn, type D64Geometry } from './geometry';
import { DATA, sideLinks } from './records';

/** Bytes of a chain's sector before its contents. */
const LINK_BYTES = 2;

export interface Chain {
  blocks: number[];
  extents: Extent[];
  bytes: number;
  damaged: boolean;
}

export class D64Sectors {
  readonly owners: BlockOwners;

  constructor(
    private readonly image: Uint8Array,
    readonly geometry: D64Geometry,
    private readonly problems: ProblemList,
  ) {
    this.owners = new BlockOwners(blocksIn(geometry));
  }

  get bytes(): number {
    return this.image.length;
  }

  read(track: number, sector: number): Uint8Array | null {
    const block = blockOf(this.geometry, track, sector);
    if (block < 0) return null;
    const bytes = this.at(block);
    return bytes.length === SECTOR ? bytes : null;
  }

  /** A sector by its number; shorter where the image ends within it. */
  at(block: number): Uint8Array {
    return this.image.subarray(block * SECTOR, block * SECTOR + SECTOR);
  }

  /** Follows a file's links; with an owner it claims them and reports what is wrong. */
  follow(track: number, sector: number, name: string, owner: number | null): Chain {
    const chain: Chain = { blocks: [], extents: [], bytes: 0, damaged: false };
    const visited = new Set<number>();
    const fail = (kind: ProblemKind, offset: number | null, what: Said) => {
      if (owner !== null) this.problems.report(kind, offset, said('volume.ofName', { name, what }));
      chain.damaged = true;
    };
    for (let [t, s] = [track, sector]; t !== 0;) {
      const block = blockOf(this.geometry, t, s);
      const bytes = this.next(t, s, visited, fail);
      if (!bytes) break;
      visited.add(block);
      const other = owner === null ? null : this.owners.claim(block, owner);
      if (other)
        fail('cross-linked', block * SECTOR, said('d64.itSharesTrackSector', { t, s, other }));
      // The last sector says which of its bytes is the last in use: none is in use of what was lost.
      if (bytes[0] === 0 && bytes[1] === 0)
        fail('chain-too-short', block * SECTOR, said('d64.itsLastSectorSays', { t, s }));
      const length = bytes[0] === 0 ? Math.max(0, bytes[1]! - 1) : DATA;
      chain.blocks.push(block);
      chain.extents.push({ offset: block * SECTOR + LINK_BYTES, length });
      chain.bytes += length;
      [t, s] = [bytes[0]!, bytes[1]!];
    }
    return chain;
  }

  /** The next sector of a chain, or null where there is none or the chain has been there. */
  private next(
    t: number,
    s: number,
    visited: ReadonlySet<number>,
    fail: (kind: ProblemKind, offset: number | null, what: Said) => void,
  ): Uint8Array | null {
    const block = blockOf(this.geometry, t, s);
    if (block < 0) {
      fail('out-of-range', null, said('d64.itsChainGoesOn', { t, s }));
      return null;
    }
    if (visited.has(block)) {
      fail('loop', block * SECTOR, said('d64.itsChainComesBack', { t, s }));
      return null;
    }
    const bytes = this.read(t, s);
    if (!bytes) fail('out-of-range', block * SECTOR, said('d64.itsChainGoesOnAt', { t, s }));
    return bytes;
  }

  /**
   * Side sectors, and super side sectors before them, belong to a record file; gives how many there
   * are.
   */
  claimSides(track: number, sector: number, name: string, owner: number): number {
    const visited = new Set<number>();
    const pending: [number, number][] = [[track, sector]];
    while (pending.length > 0) {
      const [t, s] = pending.pop()!;
      const block = blockOf(this.geometry, t, s);
      const bytes = this.read(t, s);
      if (!bytes) {
        this.problems.report('out-of-range', null, said('d64.aSideSectorLies', { name, t, s }));
        break;
      }
      if (visited.has(block)) continue;
      visited.add(block);
      const other = this.owners.claim(block, owner);
      if (other)
        this.problems.report(
          'cross-linked',
          block * SECTOR,
          said('d64.andShareTrackSector', { name, other, t, s }),
        );
      pending.push(...sideLinks(bytes));
    }
    return visited.size;
  }
}
