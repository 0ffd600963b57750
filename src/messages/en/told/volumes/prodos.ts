/** What is said of volumes of the family prodos: problems, evidence, refusals. */
export const prodos = {
  theBlocksBehindThe: 'the blocks behind the first of its directory lead to one another',
  theFirstBlockOf:
    'The first block of the volume directory is lost, and with it the name of the volume; the rest ' +
    'is listed.',
  goesOnInBlockThat: ({ name, block }: { name: string; block: number }) =>
    `${name} goes on in block ${block}, to which nothing leads any more; it is listed with the rest.`,
  aFolderHasLost: ({ path }: { path: string }) =>
    `A folder is listed in none any more: it is shown as ${path}.`,
  blockDoesNotLead: ({ name, number, before }: { name: string; number: number; before: number }) =>
    `${name} goes on in block ${number}, which does not lead back to block ${before}.`,
  saysItsEntriesHave: ({ name, length }: { name: string; length: number }) =>
    `${name} says that its entries have ${length} bytes; every system writes 39.`,
  aVolumesNameBegins:
    'A volume’s name begins with a letter and goes on with letters, digits and dots, fifteen at most.',
  block2BeginsWith: 'block 2 begins with a volume header',
  entriesOf27H: 'entries of 27h, thirteen a block',
  itsNameIsWell: ({ subarray }: { subarray: string }) => `its name ${subarray} is well-formed`,
  blocksAsManyAs: ({ total }: { total: number }) => `${total} blocks, as many as the image has`,
  theVolumeClaimsBlocks: ({ total, there }: { total: number; there: number }) =>
    `The volume claims ${total} blocks, the image has ${there}: what lies beyond is not there.`,
  theVolumeDirectory: 'the volume directory',
  isAFolderThat: ({ name }: { name: string }) =>
    `${name} is a folder that was entered before; it was read once.`,
  goesOnInBlock: ({ name, number }: { name: string; number: number }) =>
    `${name} goes on in block ${number}, which the volume does not have.`,
  comesBackToBlock: ({ name, number }: { name: string; number: number }) =>
    `${name} comes back to block ${number}; it was read once.`,
  andShareBlock: ({ name, other, number }: { name: string; other: string; number: number }) =>
    `${name} and ${other} share block ${number}.`,
  blockIsNoDirectorys: ({ name, number }: { name: string; number: number }) =>
    `${name}: block ${number} is no directory's first block.`,
  liesDeeperThanFolders: ({ path, depth }: { path: string; depth: number }) =>
    `${path} lies deeper than ${depth} folders; it was not entered.`,
  hasStorageTypeWhich: ({ path, storage }: { path: string; storage: number }) =>
    `${path} has storage type ${storage}, which no file has.`,
  theDirectorySaysBlocks: ({
    path,
    used,
    blocks,
  }: {
    path: string;
    used: number;
    blocks: number;
  }) => `${path}: the directory says ${used} blocks, it has ${blocks}.`,
  itsKeyBlockIs: ({ path, key }: { path: string; key: number }) =>
    `${path}: its key block ${key} is not on the volume.`,
  andShareBlock2: ({ path, other, block }: { path: string; other: string; block: number }) =>
    `${path} and ${other} share block ${block}.`,
  blockIsNotOn: ({ path, block }: { path: string; block: number }) =>
    `${path}: block ${block} is not on the volume.`,
  saysItHasBytes: ({ path, bytes }: { path: string; bytes: number }) =>
    `${path} says it has ${bytes} bytes, more than a file of its kind can.`,
  blocksAreInUse: ({ used }: { used: number }) =>
    `${used} ${used === 1 ? 'block is' : 'blocks are'} in use and marked free: writing to ` +
    'this disk would overwrite files.',
  blocksAreMarkedIn: ({ lost }: { lost: number }) =>
    `${lost} ${lost === 1 ? 'block is' : 'blocks are'} marked in use and belong to no file.`,
  isTooLongFifteen: ({ name }: { name: string }) =>
    `“${name}” is too long: fifteen characters at most.`,
  aNameBeginsWith:
    'A name begins with a letter and goes on with letters, digits and dots, in capitals.',
  aFileHereHolds: 'A file here holds 16 777 215 bytes at most.',
  aFilesTypeIs: ({ type }: { type: string }) =>
    `A file’s type is two hexadecimal digits here, not ${type}.`,
  hasTwoForksIt: ({ path }: { path: string }) =>
    `${path} has two forks; it is kept as it is, and can’t be replaced.`,
  theVolumeHasBlocks: ({ free, blocks }: { free: number; blocks: number }) =>
    `The volume has ${free} blocks free; ${blocks} more are needed.`,
  aLinkLeadsTo: ({ number }: { number: number }) =>
    `A link leads to block ${number}, which the volume does not have; it can’t be written to.`,
  aFolderOfThis: 'A folder of this volume comes back to itself; it can’t be written to.',
  theVolumesOwnDirectory:
    'The volume’s own directory is full: it holds 51 entries. Make room, or use a folder.',
};
