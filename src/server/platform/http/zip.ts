/**
 * A ZIP (APPNOTE 6.3, without ZIP64) made while it is sent: its members come one after the other,
 * and nothing of it is held.
 */
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { UserError } from '../errors';
import { said } from '@/core/said';

export interface ZipMember {
  /** Safe already. */
  name: string;
  /** Local time, without a zone. */
  modified: string | null;
  bytes: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
  /** Packed already: it goes in as it is. */
  stored?: boolean;
  /** Made from a file and put beside it: no file of its own. */
  beside?: boolean;
}

/** What a ZIP's date can hold. */
const FIRST_YEAR = 1980;
const LAST_YEAR = 2099;
/** Without ZIP64 no more fits. */
const MAX_MEMBERS = 65_000;
const MAX_BYTES = 4_000_000_000;

function dateOf(modified: string | null): Date {
  const date = modified ? new Date(modified) : new Date(FIRST_YEAR, 0, 1);
  return !(date.getFullYear() >= FIRST_YEAR && date.getFullYear() <= LAST_YEAR)
    ? new Date(FIRST_YEAR, 0, 1)
    : date;
}

/** Refuses before it begins what could not be finished. */
export function refuseTooMuch(members: number, bytes: number): void {
  if (members > MAX_MEMBERS || bytes > MAX_BYTES)
    throw new UserError(said('platform.filesWithBytesDo', { members, bytes }), 413);
}

export async function* zipOf(members: AsyncIterable<ZipMember>): AsyncGenerator<Uint8Array> {
  let ready: Uint8Array[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, chunk) => {
    if (error) failed = error;
    else ready.push(chunk);
  });
  const take = (): Uint8Array[] => {
    if (failed) throw failed;
    const taken = ready;
    ready = [];
    return taken;
  };
  for await (const { name, modified, bytes, stored = false } of members) {
    const file = stored ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
    file.mtime = dateOf(modified);
    zip.add(file);
    for await (const part of bytes) {
      file.push(part);
      yield* take();
    }
    file.push(new Uint8Array(0), true);
    yield* take();
  }
  zip.end();
  yield* take();
}
