/**
 * Papers on their way: kept in this browser until the server has them, over a reload and over a
 * lost connection.
 */
import { createStore, del, entries, set, type UseStore } from 'idb-keyval';
import { ApiError, upload } from '../data/api';

export interface Outgoing {
  /** `code=SKP-0117`, `set=…` or `lot=…`, as the request takes it. */
  owner: string;
  name: string;
  file: Blob;
  /** Why the server refused it; null while it is on its way. */
  refused: string | null;
}

/** Told to the page when what waits has changed. */
export const OUTBOX_EVENT = 'spindle-outbox';
let opened: UseStore | null = null;
/** Opened once, and only in a browser. */
const store = () => (opened ??= createStore('frail-spindle', 'outgoing-papers'));
const changed = () => window.dispatchEvent(new Event(OUTBOX_EVENT));

export const ownedBy = (medium: { code: string }) => `code=${encodeURIComponent(medium.code)}`;
export const ofLot = (lot: { name: string }) => `lot=${encodeURIComponent(lot.name)}`;
export const sharedBy = (set_: { name: string }) => `set=${encodeURIComponent(set_.name)}`;

export async function keepOutgoing(owner: string, files: readonly File[]): Promise<void> {
  for (const file of files)
    await set(
      `${owner}/${file.name}/${file.size}/${file.lastModified}`,
      { owner, name: file.name, file, refused: null } satisfies Outgoing,
      store(),
    );
  changed();
}

export const outgoing = () => entries<string, Outgoing>(store());

export async function forgetOutgoing(key: string): Promise<void> {
  await del(key, store());
  changed();
}

/**
 * Sends what waits; what the server refuses stays with its reason, what it can't be reached for
 * stays for the next time.
 */
export async function sendOutgoing(): Promise<{ sent: number; away: boolean }> {
  let sent = 0;
  for (const [key, paper] of await outgoing()) {
    if (paper.refused) continue;
    try {
      await upload(`/api/papers?${paper.owner}&name=${encodeURIComponent(paper.name)}`, paper.file);
      await forgetOutgoing(key);
      sent++;
    } catch (error) {
      if (!(error instanceof ApiError) || error.status === 0 || error.status >= 500)
        return { sent, away: true };
      await set(key, { ...paper, refused: error.message }, store());
      changed();
    }
  }
  return { sent, away: false };
}
