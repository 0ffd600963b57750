/** What the pages say of media that come and go, and of the receipts for them. */
import { counted } from '../../words';

const media = (count: number) => counted(count, 'medium', 'media');

export const receipts = {
  chooseMedia: 'A receipt is for one medium at least.',
  sayWho: 'Say who brought them, or takes them.',
  onlySentOut: 'Only what is sent out comes back.',
  backBefore: 'It can’t be back before it goes.',
  handBacks: 'Hand-backs',
  howMany: ({ due, overdue, out }: { due: number; overdue: number; out: number }) =>
    `${counted(due, 'lot')} to hand back, ${overdue === 0 ? 'none' : overdue} overdue` +
    (out === 0 ? '' : `; ${media(out)} sent out`),
  about:
    'What was lent goes back by the day that its lot names. Each time media come or go there is a ' +
    'receipt to be signed; a medium that was handed back stays in the holdings, with where it went.',
  due: 'To be handed back',
  nothingDue:
    'No lot with a day for its hand-back has media here. The day is set on the page of a lot.',
  out: 'Sent out',
  given: 'Receipts',
  noneGiven:
    'None was given yet. Press “Receipt” on a docket, on the page of a lot or of a set, or “Hand back” here.',
  by: 'By',
  lot: 'Lot',
  lender: 'Lender',
  here: 'Here',
  hereOf: ({ here, all, sentOut }: { here: number; all: number; sentOut: number }) =>
    `${here} of ${all}${sentOut > 0 ? `, ${sentOut} sent out` : ''}`,
  unread: 'Not read',
  overdue: ({ days }: { days: number }) => `overdue by ${counted(days, 'day')}`,
  inDays: ({ days }: { days: number }) => (days === 0 ? 'today' : `in ${counted(days, 'day')}`),
  noDay: 'no day set',
  number: 'Number',
  what: 'What',
  day: 'Day',
  person: 'Who',
  persons: {
    arrived: 'Who brought them',
    'handed-back': 'Who takes them',
    'sent-out': 'To whom',
    'came-back': 'Who brings them back',
  },
  kinds: {
    arrived: 'Arrived',
    'handed-back': 'Handed back',
    'sent-out': 'Sent out',
    'came-back': 'Came back',
  },
  /** In the dialog, where it is still to be. */
  choices: {
    arrived: 'They arrived',
    'handed-back': 'They go back to the lender',
    'sent-out': 'They go out for a while',
    'came-back': 'They came back',
  },
  ofMedia: ({ count, out }: { count: number; out: number }) =>
    media(count) + (out > 0 ? `, ${out} not back yet` : ''),
  makeOne: 'Receipt',
  handBack: 'Hand back',
  cameBack: 'Came back',
  give: 'Note it and make the receipt',
  notes: 'Notes',
  backBy: 'Back by',
  isMade: ({ id }: { id: number }) => `Receipt ${id} is made.`,
  openIt: 'Open it to print and sign',
  aboutOne:
    'The receipt is a PDF with two lines to sign. It is kept as it is given; where the media are follows from it.',
  unreadGo: ({ unread }: { unread: number }) =>
    `${media(unread)} of these ${unread === 1 ? 'is' : 'are'} not read yet.`,
  atStation: ({ station }: { station: number }) => `In station ${station}`,
  onShelf: ({ shelf }: { shelf: string }) => `Shelf: ${shelf}`,
  shelfNotNoted: 'In the house; on which shelf is not noted',
  isHandedBack: ({ person, day }: { person: string; day: string }) =>
    `Handed back to ${person} on ${day}`,
  isSentOut: ({ person, day, backBy }: { person: string; day: string; backBy: string }) =>
    `Sent out to ${person} on ${day}${backBy && `, to be back by ${backBy}`}`,
  receiptOf: ({ id, kind, day }: { id: number; kind: string; day: string }) =>
    `Receipt ${id}, ${kind} ${day}`,
  shelf: 'Shelf, box',
  report: 'Report for the lender',
  asPdf: 'As PDF',
  toTheLot: 'The lot',
  done: 'Done',
  writtenBy: 'Written by',
  onlyThese: 'Only these, one code a line (nothing: all that it can be true of)',
};
