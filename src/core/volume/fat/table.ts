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
type ChainEnd = 'end' | 'loop' | 'out-of-range' | 'free' | 'bad' | 'crossed';

export interface Chain {
  clusters: number[];
  end: ChainEnd;
  /** The link that could not be followed. */
  last: number;
  /** Clusters on the way that are another's. */
  crossed: number;
}

/**
 * Follows the chain from `first`. `owners` says whose each cluster is (0 nobody's) and is filled
 * in for `owner`; a chain that meets itself is a loop, one that meets another's cluster goes on as
 * crossed, through `mostCrossed` of them.
 */
export function followChain(
  table: FatTable,
  first: number,
  owners: Uint32Array,
  owner: number,
  mostCrossed: number,
): Chain {
  const clusters: number[] = [];
  let crossed = 0;
  const ended = (end: ChainEnd, last: number): Chain => ({
    clusters,
    end: crossed > 0 && (end === 'end' || end === 'free') ? 'crossed' : end,
    last,
    crossed,
  });
  for (let cluster = first; ; cluster = table[cluster]!) {
    if (cluster >= END) return ended('end', cluster);
    if (cluster === BAD) return ended('bad', cluster);
    if (cluster === FREE) return ended('free', cluster);
    if (cluster < 2 || cluster >= table.length) return ended('out-of-range', cluster);
    // Of another's chain a loop does not show by its owner.
    if (owners[cluster] === owner || clusters.length >= table.length) return ended('loop', cluster);
    if (owners[cluster] === 0) owners[cluster] = owner;
    else if (++crossed > mostCrossed) return ended('crossed', cluster);
    clusters.push(cluster);
  }
}
