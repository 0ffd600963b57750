/** What the feature assemblies says: in errors, in the ledger, of work under way. */
import { grouped } from '@/core/text/grouped';

export const assemblies = {
  isSettledItsImage: ({ title }: { title: string }) =>
    `“${title}” is settled: its image is kept and does not change. Begin another assembly from that image.`,
  itCouldNotBe: ({ message }: { message: string }) =>
    `Something went wrong (${message}). What was put together is kept; settle it once more, or ` +
    'undo what was done last.',
  isBeingSettled: ({ title }: { title: string }) =>
    `“${title}” is being settled and takes no more changes. Look again in a moment.`,
  assembly: ({ id }: { id: number }) => `assembly ${id}`,
  soundAt: ({ path }: { path: string }) => `sound at ${path}`,
  itIsNoFile: 'It is no file whose bytes can be had.',
  itHasBytesFiles: ({ bytes, maxFileBytes }: { bytes: number; maxFileBytes: number }) =>
    `It has ${grouped(bytes)} bytes; files of at most ` +
    `${grouped(maxFileBytes)} are put on a volume here.`,
  ofItsSectorsAre: ({ sectorsInDoubt }: { sectorsInDoubt: number }) =>
    `${sectorsInDoubt} of its sectors ${sectorsInDoubt === 1 ? 'is' : 'are'} in doubt`,
  itIsDamaged: 'it is damaged',
  onlyAPartOf: 'only a part of it is left',
  thereIsNoSuch: 'There is no such kind of blank volume.',
  theImageThatIt: 'the image that it began with',
  thisImageHasBytes: ({
    imageBytes,
    maxImageBytes,
  }: {
    imageBytes: number;
    maxImageBytes: number;
  }) =>
    `This image has ${grouped(imageBytes)} bytes; images of at most ` +
    `${grouped(maxImageBytes)} are changed here. Take its files out, or put ` +
    'them on a smaller volume.',
  nothingWasChanged: ({ message }: { message: string }) => `${message} Nothing was changed.`,
  hasNoLabel: ({ title }: { title: string }) => `${title} has no label.`,
  aLabelOfHas: ({
    title,
    mostLabel,
    count,
    width,
  }: {
    title: string;
    mostLabel: number;
    count: number;
    width: number;
  }) =>
    `A label of ${title} has at most ${mostLabel} characters${count > 1 ? `, of which ${width} are its number` : ''}.`,
  itNeedsSAnd: ({ cost, unit }: { cost: number; unit: string }) =>
    `It needs ${cost} ${unit}${cost === 1 ? '' : 's'} and finds no room.`,
  thereIsNoFolder: ({ where }: { where: string }) =>
    `There is no folder ${where} on this volume. Nothing was put in.`,
  isInQuarantine: ({ code }: { code: string }) => `${code} is in quarantine.`,
  oneOfTheseFiles: 'one of these files',
  itFindsNoRoom: 'It finds no room.',
  putTogetherBy: ({ made }: { made: string }) => `Put together by ${made}`,
  changesTo: ({ done, base }: { done: number; base: string }) =>
    `${done} ${done === 1 ? 'change' : 'changes'} to ${base}`,
  aBlankVolume: 'a blank volume',
  theDesktop: 'the desktop',
  isNoSound: ({ name }: { name: string }) =>
    `${name} is no file of sound, and a bank holds nothing else. WAV, AIFF, AU and 8SVX are read.`,
  isNoSoundFor: ({ name, why }: { name: string; why: string }) =>
    `${name} can't become a sample of this disk: ${why}. Nothing was put.`,
  imageOf: ({ code }: { code: string }) => `${code}, its image`,
  putTogetherAs: ({ code, title, made }: { code: string; title: string; made: string }) =>
    `${code} put together as “${title}”: ${made}.`,
  suchImage: 'such image',
  suchKindOfBlank: 'such kind of blank volume',
  theImageOfHas: ({
    code,
    imageBytes,
    title,
  }: {
    code: string;
    imageBytes: number;
    title: string;
  }) =>
    `The image of ${code} has ${grouped(imageBytes)} bytes, and ${title} has ` +
    'no room for it. Choose a larger volume.',
  asAFileOn: ({ code, title }: { code: string; title: string }) => `${code} as a file, on ${title}`,
  nothingWasBegunChoose: ({ why }: { why: string }) =>
    `${why} Nothing was begun; choose a larger volume.`,
  anAssemblyTakesChanges: ({ maxEdits }: { maxEdits: number }) =>
    `An assembly takes ${maxEdits} changes at most. Settle it, and go on from its image.`,
  thisAssemblyIsBeing: 'This assembly is being changed by others at once. Try once more.',
  hasBytesFilesOf: ({
    name,
    bytes,
    maxFileBytes,
  }: {
    name: string;
    bytes: number;
    maxFileBytes: number;
  }) =>
    `${name} has ${grouped(bytes)} bytes; files of at most ` +
    `${grouped(maxFileBytes)} are put on a volume here.`,
  thereIsNothingTo: ({ by }: { by: number }) =>
    `${by < 0 ? 'There is nothing to undo.' : 'There is nothing to do again.'}`,
  filesArePutIn: 'Files are put in by their rows or as uploads.',
  itDoesNotFit: 'It does not fit.',
};
