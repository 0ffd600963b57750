/** Whether an image holds a ProDOS volume, by its directory's own header. */
import type { ByteSource } from '@/core/bits/byte-source';
import { OF_WHAT_IS_LEFT } from '../family';
import { numberIn } from '../record';
import {
  BLOCK,
  ENTRY,
  FIRST_RECORD,
  HEADER_FIELDS,
  LAST_OF_ROOT,
  LINKS,
  PER_BLOCK,
  ROOT,
  VOLUME_HEADER,
  VOLUME_HEADER_FIELDS,
  isWellFormed,
  nameIn,
  recordsIn,
  storageOf,
} from './records';
import { said, type Said } from '@/core/said';

export interface ProdosEvidence {
  /** The volume's own name and sizes are gone; the rest of its directory is there. */
  isHeaderLost: boolean;
  confidence: number;
  reasons: Said[];
}

const ENOUGH = 0.6;

const isName = (name: string) => /^[A-Za-z][A-Za-z0-9.]*$/.test(name);

export async function probeProdos(source: ByteSource): Promise<ProdosEvidence | null> {
  const block = await source.read(ROOT * BLOCK, BLOCK);
  if (block.length < BLOCK) return null;
  const header = block.subarray(FIRST_RECORD);
  const reasons: Said[] = [];
  let confidence = 0;
  if (storageOf(header) === VOLUME_HEADER && numberIn(block, LINKS.blockBefore) === 0) {
    confidence += 0.3;
    reasons.push(said('prodos.block2BeginsWith'));
  }
  const length = numberIn(header, HEADER_FIELDS.entryLength);
  if (length === ENTRY && numberIn(header, HEADER_FIELDS.entriesABlock) === PER_BLOCK) {
    confidence += 0.3;
    reasons.push(said('prodos.entriesOf27H'));
  }
  const name = nameIn(header);
  if (isName(name)) {
    confidence += 0.2;
    reasons.push(said('prodos.itsNameIsWell', { subarray: name }));
  }
  const total = numberIn(header, VOLUME_HEADER_FIELDS.blocks);
  const map = numberIn(header, VOLUME_HEADER_FIELDS.mapBlock);
  if (total > 5 && map > 2 && map < total) confidence += 0.1;
  if (Math.floor(source.size / BLOCK) === total) {
    confidence += 0.1;
    reasons.push(said('prodos.blocksAsManyAs', { total }));
  }
  if (confidence >= ENOUGH)
    return { isHeaderLost: false, confidence: Math.min(1, confidence), reasons };
  return (await leadToOneAnother(source))
    ? {
        isHeaderLost: true,
        confidence: OF_WHAT_IS_LEFT,
        reasons: [said('prodos.theBlocksBehindThe')],
      }
    : null;
}

/** Whether the blocks behind the first of a volume's directory lead to one another. */
async function leadToOneAnother(source: ByteSource): Promise<boolean> {
  for (let number = ROOT + 1; number <= LAST_OF_ROOT; number++) {
    const block = await source.read(number * BLOCK, BLOCK);
    const after = number === LAST_OF_ROOT ? 0 : number + 1;
    const leads =
      block.length === BLOCK &&
      numberIn(block, LINKS.blockBefore) === number - 1 &&
      numberIn(block, LINKS.blockAfter) === after &&
      recordsIn(block).every((entry) => storageOf(entry) === 0 || isWellFormed(entry));
    if (!leads) return false;
  }
  return true;
}
