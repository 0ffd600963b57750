/** What stands on papers of the house: receipts, and reports for lenders. */
import { grouped } from '@/core/text/grouped';
import { amount } from '@/core/text/amount';
import { counted } from '../../words';

const media = (count: number) => counted(count, 'medium', 'media');

interface HowRead {
  all: number;
  isBlocks: boolean;
  doubtful: number;
  lost: number;
  unread: number;
}

interface ReportSays {
  media: number;
  read: number;
  whole: number;
  files: number;
  bytes: number;
  hurt: number;
}

interface FilesOn {
  files: number;
  fileBytes: number;
  hurtFiles: number;
}

const ofFiles = ({ files, fileBytes, hurtFiles }: FilesOn): string =>
  `${counted(files, 'file')}, ${amount(fileBytes)}` +
  (hurtFiles > 0 ? `, of which ${counted(hurtFiles, 'is', 'are')} in doubt` : '');

interface HeadOf {
  media: number;
  day: string;
}

export const sheets = {
  foot: ({ text, page, of }: { text: string; page: number; of: number }) =>
    `${text} · page ${page} of ${of}`,
  receipt: ({ id }: { id: number }) => `Receipt ${id}`,
  receiptHeads: {
    arrived: ({ media: count, day }: HeadOf) => `${media(count)} received on ${day}`,
    'handed-back': ({ media: count, day }: HeadOf) => `${media(count)} handed back on ${day}`,
    'sent-out': ({ media: count, day }: HeadOf) => `${media(count)} sent out on ${day}`,
    'came-back': ({ media: count, day }: HeadOf) => `${media(count)} back in the house on ${day}`,
  },
  persons: {
    arrived: 'Brought by',
    'handed-back': 'Handed to',
    'sent-out': 'Sent to',
    'came-back': 'Brought by',
  },
  day: 'Day',
  lender: 'Lender',
  lenderAt: ({ name, contact }: { name: string; contact: string }) => `${name} (${contact})`,
  backBy: 'Back by',
  notes: 'Notes',
  writtenBy: 'Written by',
  code: 'Code',
  form: 'Medium',
  title: 'What it is',
  sticker: 'Its label says',
  condition: 'Condition',
  read: 'Read',
  signedGiving: 'Who gives them, and the day',
  signedTaking: 'Who takes them, and the day',
  notRead: 'not read',
  cameAsImage: 'came as an image',
  howRead: ({ all, isBlocks, doubtful, lost, unread }: HowRead) => {
    const unit = isBlocks ? 'block' : 'sector';
    if (doubtful + lost + unread === 0) return `whole: ${counted(all, unit)}`;
    const parts = [
      doubtful > 0 && `${grouped(doubtful)} in doubt`,
      lost > 0 && `${grouped(lost)} lost`,
      unread > 0 && `${grouped(unread)} not read`,
    ];
    return `${parts.filter(Boolean).join(', ')}, of ${counted(all, unit)}`;
  },
  reportOn: ({ lender }: { lender: string }) =>
    lender ? `Report for ${lender} on the lot` : 'Report on the lot',
  reportSays: ({ media: all, read, whole, files, bytes, hurt }: ReportSays) =>
    `${media(all)}, of which ${read} ${read === 1 ? 'was' : 'were'} read, ${whole} without any doubt. ` +
    `On them ${ofFiles({ files, fileBytes: bytes, hurtFiles: hurt })}.`,
  cameIn: 'Came in',
  handBackBy: 'Back by',
  asOf: 'As of',
  contents: 'On it',
  files: 'Files',
  volumeNamed: ({ filesystem, label }: { filesystem: string; label: string }) =>
    `${filesystem} “${label}”`,
  tracksOfSound: ({ tracksOfSound }: { tracksOfSound: number }) =>
    counted(tracksOfSound, 'track of sound', 'tracks of sound'),
  filesOn: ofFiles,
  noVolume: 'no file system was found',
  andMore: ({ more }: { more: number }) => ` and ${grouped(more)} more`,
  namesAreHeld: 'not named here: what is on it is restricted',
};
