/**
 * The root of a disc whose descriptor is lost: a directory whose first two records, its own and that
 * of the one above it, both lead to where it stands (ECMA-119, clause 6.8.2).
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { readRecord, type DirectoryRecord } from './directory-record';
import { SECTOR, type Descriptor } from './records';

const CHUNK = 1 << 20;

/** Bytes of the disc that are looked through: directories stand near its beginning. */
const MOST_BYTES = 2 ** 28;

const ROOT_RECORD = 34;

/** The root that begins so; null where none does. */
function rootAt(bytes: Uint8Array, block: number, blocks: number): DirectoryRecord | null {
  const shape = { blocks, blockBytes: SECTOR };
  const own = bytes[0] ? readRecord(bytes, 0, block * SECTOR, shape) : null;
  const above = own ? readRecord(bytes, own.length, block * SECTOR, shape) : null;
  const isRoot =
    own?.isDirectory &&
    above?.isDirectory &&
    own.name.length === 1 &&
    own.name[0] === 0 &&
    above.name[0] === 1 &&
    own.block === block &&
    above.block === block;
  return isRoot ? own : null;
}

/** Names of two bytes a letter, most byte first, have zeros at their even places. */
function isWide(bytes: Uint8Array, own: DirectoryRecord, blocks: number): boolean {
  const shape = { blocks, blockBytes: SECTOR };
  let at = own.length;
  at += bytes[at] ?? 0;
  const third = bytes[at] ? readRecord(bytes, at, 0, shape) : null;
  return third !== null && third.name.length > 1 && third.name[0] === 0;
}

/** Descriptors as far as the roots tell them: of the plain directory, and of the one beside it. */
export async function lostDescriptors(source: ByteSource): Promise<Descriptor[]> {
  const blocks = Math.floor(source.size / SECTOR);
  const end = Math.min(source.size, MOST_BYTES);
  const found: Descriptor[] = [];
  for (let offset = 16 * SECTOR; offset < end; offset += CHUNK) {
    const chunk = await source.read(offset, Math.min(CHUNK, end - offset));
    for (let at = 0; at + ROOT_RECORD < chunk.length; at += SECTOR) {
      const sector = chunk.subarray(at, at + SECTOR);
      const block = (offset + at) / SECTOR;
      const root = rootAt(sector, block, blocks);
      if (!root) continue;
      const kind = isWide(sector, root, blocks) ? 'joliet' : 'plain';
      if (found.some((each) => each.kind === kind)) continue;
      found.push({
        kind,
        isLost: true,
        at: block * SECTOR,
        blockBytes: SECTOR,
        blocks,
        label: '',
        root: sector.slice(0, ROOT_RECORD),
        pathTable: { bytes: 0, block: 0, bigBlock: 0 },
      });
    }
  }
  return found;
}
