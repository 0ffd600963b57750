/**
 * Blocks that look like a directory's and that nothing leads to: the rest of one whose chain is
 * broken, by its link to the block before, and first blocks of folders, by their own header.
 */
import { numberIn } from '../record';
import type { ProdosBlocks } from './forks';
import {
  BLOCK,
  FIRST_RECORD,
  FOLDER_HEADER_FIELDS,
  LINKS,
  NAME,
  ROOT,
  SUBDIRECTORY_HEADER,
  isFurtherDirectory,
  nameIn,
  storageOf,
} from './records';

/** Found in one volume, of either kind. */
const MOST = 1000;

interface Further {
  block: number;
  before: number;
}

interface Key {
  block: number;
  name: string;
  /** The block in which the folder was listed. */
  listedIn: number;
}

function keyIn(bytes: Uint8Array, block: number): Key | null {
  const header = bytes.subarray(FIRST_RECORD);
  const name = nameIn(header);
  const listedIn = numberIn(header, FOLDER_HEADER_FIELDS.listedInBlock);
  const isKey =
    numberIn(bytes, LINKS.blockBefore) === 0 &&
    storageOf(header) === SUBDIRECTORY_HEADER &&
    NAME.test(name) &&
    listedIn >= ROOT;
  return isKey ? { block, name, listedIn } : null;
}

/** `free` says of each block whether the map has it free: what was given up counts for nothing. */
export async function strayDirectories(
  blocks: ProdosBlocks,
  free: Uint8Array,
): Promise<{ further: Further[]; keys: Key[] }> {
  const further: Further[] = [];
  const keys: Key[] = [];
  for (let block = ROOT; block < blocks.inImage; block++) {
    if (free[block] === 1 || blocks.owners.isOwned(block)) continue;
    const bytes = await blocks.read(block);
    if (bytes?.length !== BLOCK) continue;
    const key = keyIn(bytes, block);
    if (key && keys.length < MOST) keys.push(key);
    else if (!key && isFurtherDirectory(bytes) && further.length < MOST)
      further.push({ block, before: numberIn(bytes, LINKS.blockBefore) });
  }
  return { further, keys };
}
