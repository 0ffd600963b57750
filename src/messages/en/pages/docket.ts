/** What the pages of docket say. */
import { grouped } from '@/core/text/grouped';

export const docket = {
  condition: 'Condition',
  notSaid: 'not said',
  photosAndPapers: 'Photos and papers',
  sittings: 'Sittings',
  surface: 'Surface',
  text: ({ doubt }: { doubt: number }) => `${doubt > 0 ? `${grouped(doubt)} in doubt` : 'sound'}`,
  contents: 'Contents',
  text2: ({ contents, files }: { contents: number; files: number }) =>
    `${contents > 0 ? `${files} files` : 'none'}`,
  copies: 'Copies',
  writeBack: 'Write back',
  history: 'History',
  isABlank: ({ code }: { code: string }) => `${code} is a blank`,
  hasNotBeenRead: ({ code }: { code: string }) => `${code} has not been read yet`,
  everySAreIn: ({ doubt, unit }: { doubt: number; unit: string }) =>
    doubt === 0
      ? `Every ${unit} is sound`
      : `${grouped(doubt)} ${doubt === 1 ? `${unit} is` : `${unit}s are`} in doubt`,
  takenInAsA: 'Taken in as a flat image',
  isADiscOfSound: ({ first, tracks }: { first: string; tracks: number }) =>
    `${first}; a disc of sound, ${tracks} ${tracks === 1 ? 'track' : 'tracks'}`,
  noVolumeWasFound: ({ first }: { first: string }) => `${first}; no volume was found`,
  files: ({
    first,
    files,
    touched,
    doubt,
  }: {
    first: string;
    files: number;
    touched: number;
    doubt: number;
  }) =>
    `${first}; ${files} files` +
    (touched > 0 ? `, ${touched} of them hurt` : `${doubt > 0 ? ', none of them touched' : ''}`),
  theVolumesCallThemselves: ({ names }: { names: number }) =>
    `${names === 1 ? 'The volume calls itself' : 'The volumes call themselves'}`,
  takeItAsThe: 'take it as the title',
  theStickerSays: ({ labelText }: { labelText: string }) => `the sticker says ${labelText}`,
  nothingIsNotedOf: 'nothing is noted of a sticker',
  theDocketIsTitled: '; the docket is titled',
  aCopyOf: 'A copy of',
  thereIsACopy: 'There is a copy of it:',
  settledAsNotThe: 'Settled as not the same as',
  sideBySide: 'side by side',
  noneHereTakenIn: ({ sourceName }: { sourceName: null | string }) =>
    `None here: taken in from ${sourceName}.`,
  noneYet: 'None yet.',
  started: 'Started',
  station: 'Station',
  readings: 'Readings',
  layout: 'Layout',
  howItCameOut: 'How it came out',
  capture: 'Capture',
  blocks: 'blocks',
  download: 'Download',
  partsOfTheDocket: 'Parts of the docket',
  inDoubt: 'in doubt',
  at: ({ rule }: { rule: string }) => `(${rule}) at`,
  h: ({ offset }: { offset: string }) => `${offset}h`,
  of: 'of',
  ofTheImage: ' of the image',
  nobodyHasDescribedIt: 'Nobody has described it yet.',
  density: ({ density }: { density: string }) => `, ${density} density`,
  aBlankOfOurs: ({ densityPart }: { densityPart: string }) =>
    `A blank of ours${densityPart}; it may be written.`,
  anOriginalItIs: 'An original: it is read, and never written.',
  recorded: ({ sideWord }: { sideWord: string }) => `Recorded: ${sideWord}. `,
  printItsLabel: 'Print its label',
  surfaceOfTheFair: 'Surface of the fair copy',
  theImageByteBy: 'The image byte by byte',
  itsSounds: 'Its sounds, to be heard (S)',
  withItsFieldsIts: 'with its fields, its strings, and a search',
  thereIsNoFair: 'There is no fair copy to look into yet.',
  copiesAndExtracts: 'Copies and extracts',
  notYetWrittenBack: 'Not yet written back to a disk.',
  opening: ({ code }: { code: string }) => `Opening ${code} …`,
  inQuarantineSignaturesWere: ({ findings }: { findings: number }) =>
    `In quarantine: ${findings} ${findings === 1 ? 'signature was' : 'signatures were'} ` +
    'found. Whatever is taken out of here may do harm where it is run.',
  theMachineItWas: 'The machine it was in',
  howItWasSet: 'How it was set: jumpers, place on the cable',
  notes: 'Notes',
  outOf: 'Out of',
  aMachineNotKnown: 'a machine not known',
  setAs: '; set as',
  whichMachineItWas: 'Which machine it was in, and how it was set, is not noted.',
  noteWhereItCame: 'Note where it came from',
  keepIt: 'Keep it',
  number: ({ setNumber }: { setNumber: number }) => `Number ${setNumber}`,
  one: 'One',
  whichHas: ({ members }: { members: number }) => `, which has ${members}`,
  missing: ({ missing }: { missing: string }) => `Missing: ${missing}.`,
  noneIsMissing: 'None is missing.',
  set: 'Set',
  number2: 'number',
  keep: 'Keep',
  elsewhere: 'elsewhere',
  none: 'none',
  block: 'block',
  sector: 'sector',
  done: 'done',
  partMissing: 'missing',
};
