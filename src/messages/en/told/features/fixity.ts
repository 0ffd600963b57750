/** What the feature fixity says: in the ledger, and of a medium. */
import { grouped } from '@/core/text/grouped';
import { capital, counted } from '../../words';

export const fixity = {
  askedFor: ({ blobs, of }: { blobs: number; of: string | null }) =>
    `A check of ${of === null ? 'everything kept' : `what is kept of ${of}`} was asked for: ` +
    `${counted(blobs, 'stored object')}.`,
  thingKeptOf: ({ of }: { of: string }) => `medium or lot ${of} of which anything is kept`,
  isDamaged: ({ what, offset }: { what: string; offset: number }) =>
    `${capital(what)} is damaged from byte ${grouped(offset)} on; it is not handed out.`,
  isSoundAgain: ({ what }: { what: string }) => `${capital(what)} is as it was kept again.`,
  ledgerIsNotWhatItWas: ({ from, through }: { from: number; through: number }) =>
    `Entries ${from} to ${through} of the ledger are not what they were when they were sealed.`,
  ledgerIsAsItWas: ({ entries }: { entries: number }) =>
    `The ledger is as it was sealed again: ${counted(entries, 'entry', 'entries')}.`,
  theApplication: 'the application',
};
