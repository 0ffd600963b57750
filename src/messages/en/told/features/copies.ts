/** What the feature copies says: in errors, in the ledger, of work under way. */
import { grouped } from '@/core/text/grouped';
import { counted } from '../../words';

export const copies = {
  hasNoFairCopy: ({ code }: { code: string }) =>
    `${code} has no fair copy yet: there is nothing to compare.`,
  noLayoutIsKnown: ({ code }: { code: string }) =>
    `No layout is known for ${code}, so its sectors can't be told apart.`,
  captureOfSitting: ({ id }: { id: number }) => `capture of sitting ${id}`,
  noSectorWasFound: ({ id }: { id: number }) => `No sector was found in sitting ${id}.`,
  isIsDisksOf: ({
    name,
    id,
    name2,
    id2,
  }: {
    name: string;
    id: string;
    name2: string;
    id2: string;
  }) =>
    `${name} is ${id}, ${name2} is ${id2}: disks of two kinds can't be compared sector by sector.`,
  soundInThisFile: 'sound in this file',
  withThisCopy: ({ part }: { part: string }) => `${part} with this copy`,
  trackOfSoundOn: ({ number }: { number: number | string }) =>
    `track of sound ${number} on this disc`,
  cantBeWrittenAs: ({ code, wanted, layout }: { code: string; wanted: string; layout: string }) =>
    `${code} can't be written as ${wanted}; it can be ${layout}.`,
  captureOfThisSitting: 'capture of this sitting yet',
  captureIsNotWhole:
    'This capture is cut or hurt at an end: it is handed out as it is, and not with a description.',
  isTooLongToHear: 'A sound of more than 64 MiB is not heard in place: download it.',
  thisIsALink: ({ link }: { link: string }) =>
    `This is a link to ${link}: it has no bytes of its own.`,
  nothingOfThisDeleted: 'Nothing of this deleted file is left: its clusters hold other files.',
  theSheetBesideIt:
    'The sheet beside it is no cue sheet. Nothing was taken in; take the image in without it.',
  theCueSheetSpeaks: ({ files }: { files: number }) =>
    `The cue sheet speaks of ${files} files. A disc in several files is read by the ` +
    'command line; nothing was taken in.',
  takenInFrom: ({ sourceName }: { sourceName: string | undefined }) =>
    `Taken in from ${sourceName}`,
  fairCopySettled: 'Fair copy settled',
  bytesSha256: ({
    made,
    size,
    sha256,
    others,
  }: {
    made: string;
    size: number;
    sha256: string;
    others: string[];
  }) =>
    `${made}: ${grouped(size)} bytes, SHA-256 ${sha256}` +
    (others.length > 0 ? `; the same image is held as ${others.join(', ')}` : '') +
    '.',
  whatWasReadBefore:
    'What was read before of this medium has next to nothing in common with this reading: ' +
    'is it the same one? Only this reading was taken.',
  blocksToAreSound: ({ from, to }: { from: number; to: number }) =>
    `Blocks ${from} to ${to} are sound in two readings, and not the same.`,
  proposedLayoutWithThis: 'proposed layout with this copy',
  cylinderHeadIsRead: ({
    cylinder,
    head,
    setting,
    reason,
  }: {
    cylinder: number;
    head: number;
    setting: string;
    reason: string;
  }) =>
    `Cylinder ${cylinder}, head ${head} is read with a setting of its own: ${setting}. ${reason}`,
  asMadeItIs: 'as made; it is never mended',
  cylinderHeadSectorIs: ({
    cylinder,
    head,
    r,
    ruling,
  }: {
    cylinder: number;
    head: number;
    r: number;
    ruling: string;
  }) => `Cylinder ${cylinder}, head ${head}, sector ${r} is ${ruling}.`,
  itCouldNotBe: ({ message }: { message: string }) =>
    `It could not be settled anew (${message}). What was said is kept, and the copy before ` +
    'stays as it is; say it once more to try again.',
  nothingWasFoundIn: 'Nothing was found in the captures that could be settled.',
  settledByTheLayout: ({ layout }: { layout: string | undefined }) =>
    `Settled by the layout ${layout}`,
  settledWithASetting: ({
    cylinder,
    head,
  }: {
    cylinder: number | undefined;
    head: number | undefined;
  }) => `Settled with a setting of its own for cylinder ${cylinder}, head ${head}`,
  settledByWhatWas: 'Settled by what was said of its oddities',
  settledByAllTurns: 'Settled with all turns weighed together',
  turnsWereNotWeighed: ({ tracks }: { tracks: number }) =>
    `All turns of ${counted(tracks, 'hurt track')} were not weighed together, as was asked: ` +
    'sectors in doubt there may still be read that way.',
  whatIsLeftBySingleTurns: 'What is left of its hurt tracks is read by single turns, as asked.',
  hurtTracksRead: ({ done, of }: { done: number; of: number }) =>
    `Weighing all turns of hurt tracks together: ${done} of ${of}`,
  thisSettlingHasEnded: 'It is settled already.',
  fairCopyOfThis: 'fair copy of this medium',
  aFlatImageCant: "A flat image can't be settled anew: there is no flux of this medium.",
  theClockTakesOf: ({
    phaseGain,
    rateGain,
    drift,
    cell,
    shiftGain,
    shiftGain2,
  }: {
    phaseGain: string;
    rateGain: string;
    drift: string;
    cell: string;
    shiftGain: number;
    shiftGain2: string;
  }) =>
    `the clock takes ${phaseGain} of an error at once and ${rateGain} into its length, up ` +
    `to ${drift} away, from a cell of ${cell}${shiftGain > 0 ? `, with ${shiftGain2} of peak shift taken out` : ''}`,
  thereAreNoFiles: ({ path }: { path: string }) => `There are no files to take out of ${path}.`,
  noVolumeWasFound: ({ code }: { code: string }) =>
    `No volume was found in ${code}, or no files: there are none to take out. Its image can be had as it is.`,
  typeATextIn:
    'Type a text in "quotes", or at least two bytes in hexadecimal, with ?? for any byte.',
};
