/** What is said of volumes of the family granule: problems, evidence, refusals. */
export const granule = {
  directoryEntryIsNo: 'An entry of the directory is none that could be; it is left out.',
  n68Of68: '68 of 68 table bytes are well-formed',
  ofDirectoryEntriesAre: ({ wellFormed, used }: { wellFormed: number; used: number }) =>
    `${wellFormed} of ${used} directory entries are well-formed`,
  theImageEndsAfter: ({ source, granuleBytes }: { source: number; granuleBytes: number }) =>
    `The image ends after ${source} of ${granuleBytes} bytes: what lies beyond is not there.`,
  granulesAreMarkedIn: ({ lost }: { lost: number }) =>
    `${lost} ${lost === 1 ? 'granule is' : 'granules are'} marked in use and belong to no file.`,
  itsChainGoesOn: ({ name, granule }: { name: string; granule: number }) =>
    `${name}: its chain goes on in granule ${granule}, which the disk does not have.`,
  itsChainComesBack: ({ name, granule }: { name: string; granule: number }) =>
    `${name}: its chain comes back to granule ${granule}.`,
  andShareGranule: ({ name, other, granule }: { name: string; other: string; granule: number }) =>
    `${name} and ${other} share granule ${granule}.`,
  inUseAndMarked: 'in use and marked free',
  followedByHWhich: ({ next }: { next: string }) => `followed by ${next}h, which is no granule`,
  granuleIs: ({ name, granule, state }: { name: string; granule: number; state: string }) =>
    `${name}: granule ${granule} is ${state}.`,
  aVolumeOfThis: ({ granuleBytes, image }: { granuleBytes: number; image: number }) =>
    `A volume of this kind has ${granuleBytes} bytes, the image has ${image}.`,
  theDiskHasGranules: ({ free, path, needed }: { free: number; path: string; needed: number }) =>
    `The disk has ${free} granules free; ${path} needs ${needed}.`,
  theDirectoryIsFull: ({ entries }: { entries: number }) =>
    `The directory is full: it holds ${entries} files.`,
  filesHereAre0: 'Files here are 0 (BASIC), 1 (data), 2 (machine code) or 3 (text).',
};
