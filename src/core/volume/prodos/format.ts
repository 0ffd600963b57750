/** Blank ProDOS volumes. */
import { said } from '@/core/said';
import { putNumber } from '../record';
import { VolumeRefusal } from '../writable';
import {
  BLOCK,
  ENTRY,
  FIRST_RECORD,
  HEADER_FIELDS,
  LAST_OF_ROOT,
  LINKS,
  MAP,
  NAME,
  PER_BLOCK,
  ROOT,
  UNLOCKED,
  VOLUME_HEADER,
  VOLUME_HEADER_FIELDS,
  timeBytes,
} from './records';

/** A volume of so many blocks with nothing on it. */
export function formatProdos(
  blocks: number,
  { label = 'BLANK', modified = null }: { label?: string; modified?: string | null } = {},
): Uint8Array {
  if (blocks < 16 || blocks > 65_535)
    throw new RangeError(`a volume of ${blocks} blocks: 16 to 65,535 are possible`);
  if (!NAME.test(label)) throw new VolumeRefusal('name', said('prodos.aVolumesNameBegins'));
  const image = new Uint8Array(blocks * BLOCK);
  for (let block = ROOT; block <= LAST_OF_ROOT; block++) {
    putNumber(image, LINKS.blockBefore, block === ROOT ? 0 : block - 1, block * BLOCK);
    putNumber(image, LINKS.blockAfter, block === LAST_OF_ROOT ? 0 : block + 1, block * BLOCK);
  }
  putVolumeHeader(image.subarray(ROOT * BLOCK + FIRST_RECORD), label, modified, blocks);
  const mapBlocks = Math.ceil(blocks / (BLOCK * 8));
  for (let block = MAP + mapBlocks; block < blocks; block++)
    image[MAP * BLOCK + (block >> 3)]! |= 0x80 >> (block & 7);
  return image;
}

function putVolumeHeader(
  header: Uint8Array,
  label: string,
  modified: string | null,
  blocks: number,
): void {
  header[0] = (VOLUME_HEADER << 4) | label.length;
  header.set(new TextEncoder().encode(label), HEADER_FIELDS.name.at);
  header.set(timeBytes(modified), HEADER_FIELDS.made.at);
  putNumber(header, HEADER_FIELDS.access, UNLOCKED);
  putNumber(header, HEADER_FIELDS.entryLength, ENTRY);
  putNumber(header, HEADER_FIELDS.entriesABlock, PER_BLOCK);
  putNumber(header, VOLUME_HEADER_FIELDS.mapBlock, MAP);
  putNumber(header, VOLUME_HEADER_FIELDS.blocks, blocks);
}
