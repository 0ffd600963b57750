/** What is said of volumes of every family: problems, evidence, refusals. */
export const volume = {
  ofName: ({ name, what }: { name: string; what: string }) => `${name}: ${what}`,
  anIso9660Volume: 'an ISO 9660 volume beside it',
  andMore: ({ paths }: { paths: number }) => ` and ${paths} more`,
  pathsAndMore: ({ paths, pathsPart }: { paths: string; pathsPart: string }) =>
    `${paths}${pathsPart}`,
  onlyInUdf: ({ onlyUdf }: { onlyUdf: string }) => ` Only in UDF: ${onlyUdf}.`,
  onlyInIso9660: ({ onlyIso }: { onlyIso: string }) => ` Only in ISO 9660: ${onlyIso}.`,
  theDiscsTwoFile: ({ onlyUdfPart, onlyIsoPart }: { onlyUdfPart: string; onlyIsoPart: string }) =>
    `The disc's two file systems do not list the same files.${onlyUdfPart}${onlyIsoPart}`,
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
  partitionSaysThatA: ({ i }: { i: number }) =>
    `Partition ${i} says that a GUID partition table follows; such tables are not read here.`,
  theChainOfLogical: 'The chain of logical partitions comes back to itself; it was followed once.',
  theRecordOfA: ({ at }: { at: number }) =>
    `The record of a logical partition at sector ${at} is missing or damaged; what follows it is not found.`,
  thereIsAAlready: ({ name }: { name: string }) => `There is a ${name} already.`,
  isNoPath: ({ path }: { path: string }) => `“${path}” is no path.`,
};
