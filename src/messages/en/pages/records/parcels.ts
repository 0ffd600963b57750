/** What the pages say of parcels: what is given to others as a bag. */
import { counted } from '../../words';

export const parcels = {
  sayWhatItIs: 'Say what it is, in a few words.',
  chooseMedia: 'A parcel holds one medium at least.',
  parcels: 'Parcels',
  howMany: ({ parcels: all, came }: { parcels: number; came: number }) =>
    (all === 0 ? 'No parcel was made yet' : `${counted(all, 'parcel')} made`) +
    (came === 0 ? '' : `, ${came} taken in`),
  about:
    'A parcel is a bag (BagIt, RFC 8493) in a tar: images, captures, sidecars, papers, ' +
    'certificates, descriptions in Dublin Core and PREMIS, digests, and a page that opens in any browser.',
  noneYet: 'Find the media in Holdings, or open a lot or a set, and press “Make a parcel” there.',
  cameIn: 'Taken in from others',
  howTheyCome:
    'Drop a bag in a tar onto Holdings: its digests are checked first, then each image in it becomes a medium.',
  takenInBy: ({ who, at }: { who: string; at: string }) => `checked and taken in by ${who}, ${at}`,
  isBeingTakenIn: 'is being taken in, or broke off: send it once more and it goes on',
  inLot: ({ lot }: { lot: string }) => `lot ${lot}`,
  leftOver: ({ files, more }: { files: string; more: number }) =>
    `Neither an image nor a paper: ${files}${more > 0 ? `, and ${more} more` : ''}.`,
  theBagAsItCame: 'The bag as it came',
  whatItSays: 'What it says of itself',
  makeOne: 'Make a parcel',
  ofMedia: ({ media }: { media: number }) => counted(media, 'medium', 'media'),
  title: 'What it is',
  recipient: 'To whom it goes',
  notes: 'Notes for whoever opens it',
  withFlux: 'With the captures that the images were made of',
  withFiles: 'With the files of the volumes, each for itself',
  make: 'Make it',
  makeKnowingly: 'Make it although signatures were found',
  holds: ({ withFlux, withFiles }: { withFlux: boolean; withFiles: boolean }) =>
    `images${withFlux ? ', captures' : ''}${withFiles ? ', files' : ''}`,
  takesAbout: ({ bytes }: { bytes: string }) => `about ${bytes}`,
  andMinutes: ({ minutes }: { minutes: number }) =>
    minutes < 1 ? 'less than a minute' : counted(Math.round(minutes), 'minute'),
  download: 'Download',
  to: ({ recipient }: { recipient: string }) => `to ${recipient}`,
  madeBy: ({ who, at }: { who: string; at: string }) => `made by ${who}, ${at}`,
  neverSent: 'has not gone yet',
  went: ({ who, at }: { who: string; at: string }) => `went ${at}, taken by ${who}`,
  manifest: 'SHA-256 of its manifest',
  files: ({ files }: { files: number }) => counted(files, 'file'),
  andMore: ({ more }: { more: number }) => `and ${more} more`,
  file: 'File',
  bytes: 'Bytes',
  pageFor: ({ recipient, media }: { recipient: string; media: number }) =>
    `Made for ${recipient}: ${counted(media, 'medium', 'media')}.`,
  howToCheck:
    'This folder is a bag (BagIt 1.0). The digests of all files stand in manifest-sha256.txt and ' +
    'manifest-sha512.txt beside it: “sha256sum -c manifest-sha256.txt” checks them.',
};
