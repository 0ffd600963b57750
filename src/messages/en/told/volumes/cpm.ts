/** What is said of volumes of the family cpm: problems, evidence, refusals. */
export const cpm = {
  ofDirectoryEntriesHave: ({
    right,
    live,
    blockSize,
  }: {
    right: number;
    live: number;
    blockSize: number;
  }) =>
    `${right} of ${live} directory entries have as many blocks of ${blockSize} bytes as ` +
    'their records need, all within the disk and none twice',
  reservedTracksDirectoryEntries: ({
    reservedTracks,
    directoryEntries,
    skew,
  }: {
    reservedTracks: number;
    directoryEntries: number;
    skew: string[];
  }) =>
    `${reservedTracks} reserved tracks, ${directoryEntries} directory entries` +
    (skew.length > 0 ? `, sectors in the order ${skew.join(', ')} …` : ''),
  theImageEndsAfter: ({ source, wanted }: { source: number; wanted: number }) =>
    `The image ends after ${source} of ${wanted} bytes: what lies beyond is not there.`,
  directoryEntryIsNo: ({ i }: { i: number }) => `Directory entry ${i} is no entry of a file.`,
  twoEntriesStandFor: ({ path }: { path: string }) =>
    `${path}: two entries stand for the same part of it.`,
  blockIsNotOn: ({ path, pointer }: { path: string; pointer: number }) =>
    `${path}: block ${pointer} is not on the disk.`,
  andShareBlock: ({ path, other, pointer }: { path: string; other: string; pointer: number }) =>
    `${path} and ${other} share block ${pointer}.`,
  theImageIsSmaller: 'The image is smaller than its disk parameters say; it can’t be written to.',
  aNameIsUp:
    'A name is up to eight characters, and up to three behind a dot; a user area stands before it, as in 3/NAME.TYP.',
  userAreasAre0: ({ lastUser }: { lastUser: number }) => `User areas are 0 to ${lastUser}.`,
  theDiskHasBlocks: ({ free, path, bytes }: { free: number; path: string; bytes: number }) =>
    `The disk has ${free} blocks free; ${path} needs ${bytes}.`,
  theDirectoryIsFull: ({
    path,
    neededEntries,
    entries,
  }: {
    path: string;
    neededEntries: number;
    entries: number;
  }) =>
    `The directory is full: ${path} needs ${neededEntries} ` +
    `${neededEntries === 1 ? 'entry' : 'entries'}, ${entries} are free.`,
  thereIsAAlready: ({ wanted }: { wanted: string }) => `There is a ${wanted} already.`,
  theseDisksHaveNo:
    'These disks have no folders; a user area stands before the name, as in 3/NAME.TYP.',
};
