import { only } from './only';

/** What is said of volumes of every family: problems, evidence, refusals. */
export const volume = {
  ofName: ({ name, what }: { name: string; what: string }) => `${name}: ${what}`,
  itsUdfIsHurt: 'What UDF lists of the disc is less than ISO 9660 does: the latter is listed.',
  anIso9660Volume: 'an ISO 9660 volume beside it',
  theDiscsTwoFile: ({
    onlyUdf,
    moreUdf,
    onlyIso,
    moreIso,
  }: {
    onlyUdf: string[];
    moreUdf: number;
    onlyIso: string[];
    moreIso: number;
  }) =>
    "The disc's two file systems do not list the same files." +
    `${only('UDF', onlyUdf, moreUdf)}${only('ISO 9660', onlyIso, moreIso)}`,
  packedDataIsDamaged: ({ paths, more }: { paths: string[]; more: number }) =>
    'The packed bytes of these files are damaged; what stands in front of the damage is kept:' +
    ` ${paths.join(', ')}${more > 0 ? ` and ${more} more` : ''}.`,
  filesWereNotRead: ({ count }: { count: number }) =>
    `${count} files were not read, and have no digest: together they claim many times what the ` +
    'image holds.',
  furtherProblemsAreNot: ({ more }: { more: number }) =>
    `${more} further problems are not listed one by one.`,
  theNameCantStand: ({
    recordedName,
    recordedName2,
  }: {
    recordedName: string;
    recordedName2: string;
  }) => `The name ${recordedName} can't stand in a path; it is given as ${recordedName2}.`,
  theNameHasBytes: ({ recordedName, bytes }: { recordedName: string; bytes: number }) =>
    `The name ${recordedName} … has ${bytes} bytes; it is shortened in its path.`,
  partitionHasAnOddStatus: ({ number, status }: { number: number; status: number }) =>
    `Partition ${number} has ${status} as its status, which is neither that of one to start from ` +
    'nor that of another.',
  aVolumeBeginsAt: ({ number, start }: { number: number; start: number }) =>
    `A volume begins at sector ${start} to which no table leads any more; it is listed as ` +
    `partition ${number}.`,
  theTableLacksIts: 'The table of partitions lacks the mark behind it; what it says was believed.',
  partitionStartsAtSector: ({ number, start }: { number: number; start: number }) =>
    `Partition ${number} starts at sector ${start}, which the disk does not have.`,
  partitionEndsAtSector: ({
    number,
    start,
    total,
  }: {
    number: number;
    start: number;
    total: number;
  }) =>
    `Partition ${number} ends at sector ${start}; the disk has ${total}. What is there is opened.`,
  partitionsAndOverlap: ({ number, number2 }: { number: number; number2: number }) =>
    `Partitions ${number} and ${number2} overlap.`,
  partitionIsElsewhere: ({ number }: { number: number }) =>
    `Partition ${number} lies elsewhere by cylinder, head and sector than by number; the numbers are believed.`,
  partitionSaysThatA: ({ i }: { i: number }) =>
    `Partition ${i} says that a GUID partition table follows; such tables are not read here.`,
  theChainOfLogical: 'The chain of logical partitions comes back to itself; it was followed once.',
  theRecordOfA: ({ at }: { at: number }) =>
    `The record of a logical partition at sector ${at} is missing or damaged; what follows it is not found.`,
  thereIsAAlready: ({ name }: { name: string }) => `There is a ${name} already.`,
  isNoPath: ({ path }: { path: string }) => `“${path}” is no path.`,
  theSystem: 'the system',
  sectorsAreInUse: ({ used }: { used: number }) =>
    `${used} ${used === 1 ? 'sector is' : 'sectors are'} in use and marked free: writing ` +
    'to this disk would overwrite files.',
  sectorsAreMarkedIn: ({ lost }: { lost: number }) =>
    `${lost} ${lost === 1 ? 'sector is' : 'sectors are'} marked in use and belong to no file.`,
  thisIsNoWhole: 'This is no whole volume of this kind; it can’t be written to.',
  isLockedTakeThat: ({ path }: { path: string }) => `${path} is locked; take that off first.`,
  theseDisksHaveNo: 'These disks have no folders.',
  filesHereAreNot: ({ types, type }: { types: string; type: string }) =>
    `Files here are ${types}, not ${type}.`,
  isCalledByItsPlace: 'Files here have no names: each is called by its place.',
  thereIsNo: ({ path }: { path: string }) => `There is no ${path}.`,
  theDirectory: 'the directory',
  isTooLongEight: ({ name }: { name: string }) =>
    `“${name}” is too long: eight characters, and three behind a dot.`,
  cantStandInA: ({ wrong }: { wrong: string }) => `“${wrong}” can’t stand in a name here.`,
  isReadOnlyTake: ({ path }: { path: string }) => `${path} is read only; take that off first.`,
  aChainOfThis: 'A chain of this disk comes back to itself; it can’t be written to.',
  theRootDirectory: 'the root directory',
  moreThanEntriesThe: ({ entries }: { entries: number }) =>
    `More than ${entries} entries: the rest are not listed.`,
  aNameIsUp: 'A name is up to eight characters, and up to three behind a dot.',
  isAFolder: ({ path }: { path: string }) => `${path} is a folder.`,
  theFolderIsNot: ({ path }: { path: string }) => `The folder ${path} is not empty.`,
  thereIsNoFolder: ({ part }: { part: string }) => `There is no folder ${part}.`,
  leadsBackToA: ({ place }: { place: string }) =>
    `${place} leads back to a directory that was entered already; it was not entered again.`,
  liesDeeperThanFolders: ({ place, depth }: { place: string; depth: number }) =>
    `${place} lies deeper than ${depth} folders; it was not entered.`,
};
