/** What the pages of assemblies say. */
import { grouped } from '@/core/text/grouped';

export const assemblies = {
  newNameOf: 'New name of',
  nameOfTheFolder: 'Name of the folder',
  typeOf: 'Type of',
  dateAndTimeOf: 'Date and time of',
  filesGatheredOnA: 'Files gathered on a volume, made for the machine that is to read it',
  text: ({ open }: { open: number }) =>
    open === 0
      ? 'No volume is taking shape'
      : `${open === 1 ? 'One volume is taking shape' : `${open} volumes are taking shape`}`,
  beginOne: 'Begin one',
  beginWithABlank:
    'Begin with a blank volume, or with an image that is kept: files come onto it from ' +
    'every disk in the holdings and from this computer. Nothing that is kept is changed by ' +
    'it.',
  whatItIsFor: 'What it is for',
  beganWith: 'Began with',
  changes: 'Changes',
  lastChanged: 'Last changed',
  by: 'By',
  settledAs: 'Settled as',
  notYet: 'not yet',
  ofSFree: ({
    title,
    total,
    total2,
    unit,
    free,
  }: {
    title: string;
    total: string;
    total2: string;
    unit: string;
    free: string;
  }) => `${title}: ${total} of ${total2} ${unit}s, ${free} free`,
  beganWith2: 'began with',
  beganBlank: 'began blank',
  undo: 'Undo',
  doAgain: 'Do again',
  settleAsAnImage: 'Settle as an image',
  isBeingSettled: 'Being settled as an image …',
  couldNotBeSettled: ({ trouble }: { trouble: string }) => `It could not be settled. ${trouble}`,
  putIn: ({ put }: { put: number }) => `${put} put in`,
  underAnotherName: ({ renamed }: { renamed: number }) => `, ${renamed} under another name`,
  leftOut: ({ left }: { left: number }) => `, ${left} left out`,
  seen: 'Seen',
  isLeftOut: ({ why }: { why: string }) => `is left out. ${why}`,
  isPutInAs: 'is put in as it is:',
  became: 'became',
  theMachineThatIs: 'The machine that is to read it',
  toBeReadBy: 'To be read by',
  aMachineNotChosen: 'a machine not chosen yet',
  itWillReadIt: 'It will read it',
  itWillNotRead: 'It will not read it',
  thisAssemblyCantBe: 'This assembly can’t be opened',
  openingTheAssembly: 'Opening the assembly …',
  puttingIn: ({ name }: { name: string }) => `Putting ${name} in …`,
  text2: ({ done }: { done: number }) =>
    `${done === 0 ? 'Nothing was done yet' : `${done} ${done === 1 ? 'change' : 'changes'}`}`,
  undone: ({ undone }: { undone: number }) => `, ${undone} undone`,
  itWillBeGone: 'It will be gone with all its changes.',
  throwItAway: 'Throw it away',
  keepIt: 'Keep it',
  throwThisAssemblyAway: 'Throw this assembly away …',
  aBlankVolumeInstead: 'A blank volume instead',
  orBeginWithAn: 'Or begin with an image that is kept',
  beginAnAssembly: 'Begin an assembly',
  whatItBeginsWith:
    'What it begins with stays as it is: the volume that takes shape is an image of its own.',
  aBlankVolume: 'A blank volume',
  itsLabelCharactersAt: ({ mostLabel }: { mostLabel: number }) =>
    `Its label, ${mostLabel} characters at most`,
  itHasNoLabel: 'It has no label',
  begin: 'Begin',
  sayWhatItIs: 'Say what it is, in a few words.',
  theApplicationDoesNot: 'The application does not answer.',
  blankImages: 'Blank images',
  blankFormattedImages: 'Blank formatted images',
  kind: 'Kind',
  withAFileSystem: 'With a file system',
  formattedOnly: 'Formatted only',
  howMany: 'How many',
  noLabel: ({ mostLabel }: { mostLabel: number }) =>
    `${mostLabel > 0 ? 'Label; a number is added where there are several' : 'No label'}`,
  make: ({ count, count2 }: { count: number; count2: string }) =>
    `${count > 1 ? `Make ${count2} as one ZIP` : 'Make it'}`,
  ofSAreUsed: ({
    used,
    total,
    unit,
    free,
  }: {
    used: string;
    total: string;
    unit: string;
    free: string;
  }) => `${used} of ${total} ${unit}s are used, ${free} are free`,
  s: ({ total, unit }: { total: string; unit: string }) => `${total} ${unit}s`,
  whereFilesComeFrom: 'Where files come from',
  putAllIn: ({ files }: { files: number }) => `Put all ${files} in`,
  noFileAnswersTo: 'No file answers to that. Every word must stand in its name.',
  wholeDisks: 'Whole disks',
  manySmallVolumesGathered: 'Many small volumes gathered on this one,',
  eachInAFolder: 'each in a folder of its own or with its code before each name',
  withTheCodeOf: 'with the code of each before its names',
  filesOfEverythingKept: 'Files of everything kept, into',
  theTopOfThe: 'the top of the volume',
  aNameACode: 'A name, a code, a title …   /',
  filesFound: 'Files found',
  deleted: 'deleted',
  putIn2: 'Put in',
  gatherInFolders: ({ chosen }: { chosen: number }) => `Gather ${chosen} in folders`,
  gatherWithPrefixes: ({ chosen }: { chosen: number }) => `Gather ${chosen} with prefixes`,
  files: ({ fileCount }: { fileCount: number }) =>
    `${fileCount} ${fileCount === 1 ? 'file' : 'files'}`,
  fromThisComputer: 'From this computer',
  newFolder: 'New folder',
  rename: 'Rename',
  type: 'Type',
  date: 'Date',
  unlock: 'Unlock',
  lock: 'Lock',
  takeOff: 'Take off',
  putFilesAtThe: 'Put files at the top again',
  putFilesInHere: 'Put files in here',
  makeIt: 'Make it',
  changeIt: 'Change it',
  leaveIt: 'Leave it',
  otherContent: 'other content',
  marksChanged: 'marks changed',
  nothingIsOnIt:
    'Nothing is on it. Look for files at the side and press Enter on one, or drop files from this computer here.',
  name: 'Name',
  bytes: 'Bytes',
  takes: 'Takes',
  dated: 'Dated',
  change: 'Change',
  filesGoHere: 'files go here',
  locked: 'locked',
  was: ', was',
  itsOwn: 'Its own: folders and lists',
  stretchOf: ({ what, units, unit }: { what: string; units: number; unit: string }) =>
    `${what}: ${grouped(units)} ${unit}${units === 1 ? '' : 's'}`,
};
