/** What is said of the second store: in the ledger, and where it stands. */
import { capital } from '../../words';

export const secondStore = {
  isAnothers:
    'That folder holds what another house keeps. Nothing was written into it; ' +
    'give the second store a folder of its own.',
  isNotThere:
    'What this house keeps there is not in that folder any more: its disk may not be mounted. ' +
    'Nothing is written until it is; for a new disk, name another folder.',
  brokeOff: 'It broke off with the house that was lost and restored: begin it anew.',
  isAway: ({ message }: { message: string }) =>
    `The second store can’t be reached (${message}). It is tried again every half minute.`,
  couldNotBeWritten: ({ message }: { message: string }) => `It could not be written (${message}).`,
  broughtBack: ({ what, chunks, path }: { what: string; chunks: number; path: string }) =>
    `${capital(what)} was put right from the second store (${path}): ` +
    `${chunks === 1 ? 'one stretch' : `${chunks} stretches`} of 256 KiB.`,
  fileBroughtBack: ({ what, path }: { what: string; path: string }) =>
    `${path} in the second store was damaged and is put right from the database: ${what}.`,
  fileIsLost: ({ path, more }: { path: string; more: number }) =>
    `${path} in the second store is damaged, and nothing here has its bytes` +
    `${more > 0 ? `; so are ${more} more` : ''}.`,
  inventoryIsLost:
    'What says what lies there is damaged in the second store. ' +
    'Keep the folder as it is and restore it from its own backup.',
};
