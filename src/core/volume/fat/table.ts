/**
 * The allocation table (ECMA-107, clause 10): its entries unpacked, and chains followed without
 * trust.
 */
import type { FatWidth } from './boot-sector';

/** Entries of the table, by cluster; FAT12 and FAT16 marks are widened to those of FAT32. */
export type FatTable = Uint32Array;

export const FREE = 0;
export const BAD = 0x0ffffff7;
export const END = 0x0ffffff8;

/** Unpacks entries 0 to `clusters` + 1; entries beyond the bytes read as free. */
export function unpackTable(bytes: Uint8Array, width: FatWidth, clusters: number): FatTable {
  const table = new Uint32Array(clusters + 2);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let cluster = 0; cluster < table.length; cluster++) {
    if (width === 12) {
      const at = cluster + (cluster >> 1);
      if (at + 2 > bytes.length) break;
      const pair = view.getUint16(at, true);
      const value = cluster & 1 ? pair >> 4 : pair & 0xfff;
      table[cluster] = value >= 0xff7 ? value + (BAD - 0xff7) : value;
    } else if (width === 16) {
      if (cluster * 2 + 2 > bytes.length) break;
      const value = view.getUint16(cluster * 2, true);
      table[cluster] = value >= 0xfff7 ? value + (BAD - 0xfff7) : value;
    } else {
      if (cluster * 4 + 4 > bytes.length) break;
      table[cluster] = view.getUint32(cluster * 4, true) & 0x0fffffff;
    }
  }
  return table;
}

/** How a chain came to its end. */
export type ChainEnd = 'end' | 'loop' | 'out-of-range' | 'free' | 'bad' | 'crossed' | 'limit';

export interface Chain {
  clusters: number[];
  end: ChainEnd;
  /** The link that could not be followed. */
  last: number;
}

/**
 * Follows the chain from `first`. `owners` says whose each cluster is (0 nobody's) and is filled
 * in for `owner`;
 * a chain that meets itself is a loop, one that meets another's cluster goes on, up to `limit`
 * clusters, as crossed.
 */
export function followChain(
  table: FatTable,
  first: number,
  owners: Uint32Array,
  owner: number,
  limit: number,
): Chain {
  const clusters: number[] = [];
  let crossed = false;
  let cluster = first;
  for (;;) {
    if (cluster >= END) return { clusters, end: crossed ? 'crossed' : 'end', last: cluster };
    if (cluster === BAD) return { clusters, end: 'bad', last: cluster };
    if (cluster === FREE) return { clusters, end: crossed ? 'crossed' : 'free', last: cluster };
    if (cluster < 2 || cluster >= table.length)
      return { clusters, end: 'out-of-range', last: cluster };
    if (owners[cluster] === owner) return { clusters, end: 'loop', last: cluster };
    if (clusters.length >= limit)
      return { clusters, end: crossed ? 'crossed' : 'limit', last: cluster };
    if (owners[cluster] === 0) owners[cluster] = owner;
    else crossed = true;
    clusters.push(cluster);
    // Of another's chain a loop would not show by its owner.
    if (crossed && clusters.length > table.length)
      return { clusters: clusters.slice(0, table.length), end: 'loop', last: cluster };
    cluster = table[cluster]!;
  }
}
