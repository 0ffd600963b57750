/** Stored bytes that are not what they were: said by what they are to people, and never handed out. */
import { said, type Said } from '@/core/said';
import type { Executor } from '../db/database';
import { UserError } from '../errors';
import { log } from '../log';

/** What a blob is to people: `the stored image of SKP-0104`; null where nothing speaks of it. */
type NameBlob = (db: Executor, id: string) => Promise<Said | null>;

let nameBlob: NameBlob = async () => null;

/** The features know what refers to a blob, the store does not. */
export function nameBlobsBy(own: NameBlob): void {
  nameBlob = own;
}

/** The stored bytes are not what they were when they were kept. */
class BlobDamaged extends UserError {
  constructor(
    readonly blobId: string,
    readonly offset: number,
    what: Said,
  ) {
    super(said('platform.storedBytesAreDamaged', { what, offset }), 500);
  }
}

/** The error of a blob whose bytes from `offset` on are damaged, with its name. */
export async function blobDamaged(db: Executor, id: string, offset: number): Promise<BlobDamaged> {
  // A transaction that can't be asked any more hides no damage.
  const name = await nameBlob(db, id).catch(() => null);
  log().error({ blob: id, offset }, 'stored bytes are damaged');
  return new BlobDamaged(id, offset, name ?? said('platform.whatIsStoredHere'));
}
