/**
 * Partition headers of sampler disks: how many blocks each says it has, and, where that is lost, what
 * its table of chains and the next header tell; and whether an image begins with one.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { said, type Said } from '@/core/said';
import { bytesIn, numberIn, u16 } from '../record';
import {
  BLOCK,
  CAPACITY,
  CHAIN_TABLE,
  END_OF_LIST,
  HEADER_BLOCKS,
  PARTITION_HEADER,
  SYSTEM,
  VOLUME,
  VOLUMES,
  VOLUME_FIELDS,
  VOLUME_TABLE,
  isName,
} from './records';

interface SamplerEvidence {
  confidence: number;
  reasons: Said[];
}

/** A volume of a partition's table: where its entry stands, and what it says. */
interface VolumeAt {
  at: number;
  type: number;
  first: number;
}

/** What follows a block, by the table in its partition's header. */
export const linkIn = (header: Uint8Array, block: number): number =>
  numberIn(header, u16(CHAIN_TABLE + block * 2));

/** The volumes of a partition's table that are in use. */
export function volumesIn(header: Uint8Array): VolumeAt[] {
  return Array.from({ length: VOLUMES }, (_, i) => VOLUME_TABLE + i * VOLUME)
    .map((at) => ({
      at,
      type: numberIn(header, VOLUME_FIELDS.fileType, at),
      first: numberIn(header, VOLUME_FIELDS.firstBlock, at),
    }))
    .filter(({ type }) => type !== 0);
}

/** Whether the entry of a volume could be one. */
export const isWellFormedVolume = (
  header: Uint8Array,
  { at, type, first }: VolumeAt,
  size: number,
): boolean =>
  CAPACITY[type] !== undefined &&
  isName(bytesIn(header, VOLUME_FIELDS.name, at)) &&
  first >= HEADER_BLOCKS &&
  first < size;

/** Disks are read by so many bytes: what is lost together lies in one such stretch. */
const SECTOR = 512;

function weighVolumes(header: Uint8Array, size: number) {
  const used = volumesIn(header);
  const wrong = used.filter((each) => !isWellFormedVolume(header, each, size));
  const sectors = new Set(wrong.map(({ at }) => Math.floor((at + VOLUME - 1) / SECTOR)));
  return { used: used.length, right: used.length - wrong.length, hurtSectors: sectors.size };
}

const isMarked = (header: Uint8Array): boolean =>
  [0, 1, 2].every((block) => linkIn(header, block) === SYSTEM);

const statedSize = (header: Uint8Array): number | null => {
  const size = header.length >= 2 ? numberIn(header, PARTITION_HEADER.blocks) : 0;
  return size > HEADER_BLOCKS && size < END_OF_LIST ? size : null;
};

/** What follows a block could be another, an end, or nothing. */
const isLink = (link: number, size: number): boolean =>
  link < size || link >= END_OF_LIST || link === SYSTEM;

/** Whether what follows each block could: another, an end, or nothing. */
const isCredible = (header: Uint8Array, size: number): boolean =>
  Array.from({ length: Math.min(size, MOST_LOOKED_AT) }, (_, block) => linkIn(header, block)).every(
    (link) => isLink(link, size),
  );

const MOST_LOOKED_AT = 256;

const HEADER_BYTES = CHAIN_TABLE + 2 * HEADER_BLOCKS;

/** Whether a partition begins at a block: a size that can be one, and blocks that are its own. */
async function beginsAt(source: ByteSource, block: number): Promise<boolean> {
  const header = await source.read(block * BLOCK, HEADER_BYTES);
  return header.length === HEADER_BYTES && isMarked(header) && statedSize(header) !== null;
}

/**
 * Blocks of the partition whose header this is. What it says is believed where the next partition
 * begins behind so many, or the disk ends; else one that begins before, or, of a header that says
 * nothing, the end of the disk. Null where it is none.
 */
export async function sizeOf(
  source: ByteSource,
  header: Uint8Array,
  start: number,
): Promise<{ size: number | null; isGuessed: boolean }> {
  const stated = header.length < HEADER_BLOCKS * BLOCK ? null : statedSize(header);
  const blocks = Math.floor(source.size / BLOCK);
  const isBorneOut =
    stated !== null && (start + stated === blocks || (await beginsAt(source, start + stated)));
  if (isBorneOut || header.length < HEADER_BLOCKS * BLOCK || !isMarked(header))
    return { size: stated, isGuessed: false };
  const end = Math.min(blocks, start + END_OF_LIST - 1, start + (stated ?? END_OF_LIST));
  for (let block = start + HEADER_BLOCKS + 1; block < end; block++)
    if (await beginsAt(source, block)) return { size: block - start, isGuessed: true };
  if (stated !== null) return { size: stated, isGuessed: false };
  const left = blocks - start;
  return { size: left > HEADER_BLOCKS ? left : null, isGuessed: true };
}

export async function probeSampler(source: ByteSource): Promise<SamplerEvidence | null> {
  const header = await source.read(0, HEADER_BLOCKS * BLOCK);
  const { size, isGuessed } = await sizeOf(source, header, 0);
  if (size === null) return null;
  const { right, used, hurtSectors } = weighVolumes(header, size);
  const isSystem = isMarked(header);
  const reasons = [
    said('sampler.aFirstPartitionOf', { size }),
    said('sampler.ofVolumeEntriesAre', { right, used }),
    ...(isSystem ? [said('sampler.itsHeaderIsMarked')] : []),
  ];
  const fits = size * BLOCK <= source.size + BLOCK;
  if (!isGuessed && used > 0 && right === used && (isSystem || fits))
    return { confidence: 0.5 + (isSystem ? 0.3 : 0) + (fits ? 0.15 : 0), reasons };
  const isLeft = isSystem
    ? isCredible(header, size) && hasChains(header, size)
    : right > 0 && hurtSectors === 1 && fits;
  return isLeft ? { confidence: OF_WHAT_IS_LEFT, reasons } : null;
}

/** Whether blocks lead to others at all. */
const hasChains = (header: Uint8Array, size: number): boolean =>
  Array.from({ length: Math.min(size, MOST_LOOKED_AT) }, (_, block) => linkIn(header, block)).some(
    (link) => link >= HEADER_BLOCKS && link < size,
  );
