/** Whether an image holds a ProDOS volume, by its directory's own header. */
import type { ByteSource } from '@/core/bits/byte-source';
import { BLOCK, FIRST_DIRECTORY, VOLUME_HEADER, nameIn, viewOf } from './read';
import { said, type Said } from '@/core/said';

interface ProdosEvidence {
  confidence: number;
  reasons: Said[];
}

const isName = (name: string) => /^[A-Za-z][A-Za-z0-9.]*$/.test(name);

export async function probeProdos(source: ByteSource): Promise<ProdosEvidence | null> {
  const block = await source.read(FIRST_DIRECTORY * BLOCK, BLOCK);
  if (block.length < BLOCK) return null;
  const view = viewOf(block);
  const reasons: Said[] = [];
  let confidence = 0;
  if (block[4]! >> 4 === VOLUME_HEADER && view.getUint16(0, true) === 0) {
    confidence += 0.3;
    reasons.push(said('prodos.block2BeginsWith'));
  }
  if (block[0x23] === 0x27 && block[0x24] === 0x0d) {
    confidence += 0.3;
    reasons.push(said('prodos.entriesOf27H'));
  }
  if ((block[4]! & 15) > 0 && isName(nameIn(block.subarray(4), block[4]! & 15))) {
    confidence += 0.2;
    reasons.push(
      said('prodos.itsNameIsWell', { subarray: nameIn(block.subarray(4), block[4]! & 15) }),
    );
  }
  const total = view.getUint16(0x29, true);
  if (total > 5 && view.getUint16(0x27, true) > 2 && view.getUint16(0x27, true) < total)
    confidence += 0.1;
  if (Math.floor(source.size / BLOCK) === total) {
    confidence += 0.1;
    reasons.push(said('prodos.blocksAsManyAs', { total }));
  }
  return confidence >= 0.6 ? { confidence: Math.min(1, confidence), reasons } : null;
}
