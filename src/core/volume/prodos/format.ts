/** Blank ProDOS volumes. */
import { VolumeRefusal } from '../writable';
import {
  BLOCK,
  ROOT,
  ENTRY,
  PER_BLOCK,
  NAME,
  DESTROY_RENAME_WRITE_READ,
  wordsOfTime,
} from './write';
import { said } from '@/core/said';

/** A volume of so many blocks with nothing on it. */
export function formatProdos(
  blocks: number,
  { label = 'BLANK', modified = null }: { label?: string; modified?: string | null } = {},
): Uint8Array {
  if (blocks < 16 || blocks > 65_535)
    throw new RangeError(`a volume of ${blocks} blocks: 16 to 65,535 are possible`);
  if (!NAME.test(label)) throw new VolumeRefusal('name', said('prodos.aVolumesNameBegins'));
  const image = new Uint8Array(blocks * BLOCK);
  const view = new DataView(image.buffer);
  const root = ROOT * BLOCK;
  for (let block = 2; block <= 5; block++) {
    view.setUint16(block * BLOCK, block === 2 ? 0 : block - 1, true);
    view.setUint16(block * BLOCK + 2, block === 5 ? 0 : block + 1, true);
  }
  const header = root + 4;
  image[header] = 0xf0 | label.length;
  for (let i = 0; i < label.length; i++) image[header + 1 + i] = label.charCodeAt(i);
  const [date, time] = wordsOfTime(modified);
  view.setUint16(header + 0x18, date, true);
  view.setUint16(header + 0x1a, time, true);
  image.set([0, 0, DESTROY_RENAME_WRITE_READ, ENTRY, PER_BLOCK, 0, 0], header + 0x1c);
  const map = 6;
  view.setUint16(header + 0x23, map, true);
  view.setUint16(header + 0x25, blocks, true);
  const mapBlocks = Math.ceil(blocks / (BLOCK * 8));
  for (let block = map + mapBlocks; block < blocks; block++)
    image[map * BLOCK + (block >> 3)]! |= 0x80 >> (block & 7);
  return image;
}
