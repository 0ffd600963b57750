/** What is said of volumes of the family sampler: problems, evidence, refusals. */
export const sampler = {
  partitionDoesNotSay: ({ letter, size }: { letter: string; size: number }) =>
    `Partition ${letter} does not say how many blocks it has; ${size} are there up to the next, or ` +
    'to the end of the disk.',
  aFirstPartitionOf: ({ size }: { size: number }) => `a first partition of ${size} blocks`,
  ofVolumeEntriesAre: ({ right, used }: { right: number; used: number }) =>
    `${right} of ${used} volume entries are well-formed`,
  itsHeaderIsMarked: "its header is marked as the system's",
  partitionSaysItHas: ({ number, size }: { number: string; size: number }) =>
    `Partition ${number} says it has ${size} blocks, which can't be.`,
  partitionClaimsBlocksThe: ({ number, size }: { number: string; size: number }) =>
    `Partition ${number} claims ${size} blocks; the image ends before them.`,
  volumeOfPartitionHas: ({ name, letter, type }: { name: string; letter: string; type: number }) =>
    `Volume ${name} of partition ${letter} has type ${type}, which is not known.`,
  partitionBlocksAreIn: ({ letter, used }: { letter: string; used: number }) =>
    `Partition ${letter}: ${used} blocks are in use and marked free.`,
  partitionBlocksAreMarked: ({ letter, lost }: { letter: string; lost: number }) =>
    `Partition ${letter}: ${lost} blocks are marked in use and belong to no file.`,
  itsChainGoesOn: ({ name, block }: { name: string; block: number }) =>
    `${name}: its chain goes on in block ${block}, which the partition does not have.`,
  itsChainComesBack: ({ name, block }: { name: string; block: number }) =>
    `${name}: its chain comes back to block ${block}.`,
  andShareBlock: ({ name, other, block }: { name: string; other: string; block: number }) =>
    `${name} and ${other} share block ${block}.`,
  blockIsInUse: ({ name, block, next }: { name: string; block: number; next: number }) =>
    `${name}: block ${block} is in use and ${next === 0 ? 'marked free' : "marked as the system's"}.`,
  cantBeChanged: ({ letter }: { letter: string }) =>
    `Partition ${letter} is not whole, or contradicts itself: a chain has no end, or a block belongs ` +
    'to two files. ' +
    'Nothing is written to this disk; its files can be taken out.',
  aNameIsUp: ({ most }: { most: number }) =>
    `A name here is up to ${most} letters, digits, spaces and # + - . and does not end in a space.`,
  foldersAreVolumes:
    'Files of this disk stand in volumes, and volumes in its partitions: choose a volume for files, ' +
    'and name a new one with its partition, as A/HORNS.',
  partitionIsFull: ({ letter, volumes }: { letter: string; volumes: number }) =>
    `Partition ${letter} has ${volumes} volumes, and no more fit.`,
  filesHereAre:
    'A file here is s (a sample), p (a program), or of another kind of one small letter.',
  isTooLarge: ({ path, most }: { path: string; most: number }) =>
    `${path} is too large: a file here has up to ${most} bytes.`,
  hasBlocksFree: (its: { letter: string; free: number; path: string; needed: number }) =>
    `Partition ${its.letter} has ${its.free} blocks free; ${its.path} needs ${its.needed}.`,
  volumeIsFull: ({ path, files }: { path: string; files: number }) =>
    `There is no room in the directory for ${path}: its volume holds ${files} files.`,
  theDirectoryOf: ({ volumePath }: { volumePath: string }) => `The directory of ${volumePath}`,
  entryOfIsNo: ({ i, volumePath }: { i: number; volumePath: string }) =>
    `Entry ${i} of ${volumePath} is no file.`,
  saysItHasBytes: ({ path, length, there }: { path: string; length: number; there: number }) =>
    `${path} says it has ${length} bytes; its chain holds ${there}.`,
};
