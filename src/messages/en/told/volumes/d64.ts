/** What is said of volumes of the family d64: problems, evidence, refusals. */
export const d64 = {
  ofFilesAreAs: ({ used, proven }: { used: number; proven: number }) =>
    `${proven} of ${used} files in the directory are as long as it says`,
  itsLastSectorSays: ({ t, s }: { t: number; s: number }) =>
    `its last sector, track ${t}, sector ${s}, says that none of its bytes is in use`,
  wasNotClosed: ({ recordedName }: { recordedName: string }) =>
    `${recordedName} was not closed when it was written last: its length may be wrong.`,
  aSectorOfThe:
    'A sector of the directory is no longer led to by the one before it; it is listed with the rest.',
  theHeaderIsNo:
    'The header is no longer one: the name of the disk and its map of free sectors are lost.',
  trackSector0Leads: ({ directoryTrack }: { directoryTrack: number }) =>
    `track ${directoryTrack} sector 0 leads to the directory`,
  itsFormatByteIs: 'its format byte is right',
  n8Of8: '8 of 8 directory entries looked at are well-formed',
  of35FreeCounts: ({ agree }: { agree: number }) =>
    `${agree} of 35 free counts agree with their bitmaps`,
  theImageEndsAfter: ({ image, wanted }: { image: number; wanted: number }) =>
    `The image ends after ${image} of ${wanted} bytes: what lies beyond is not there.`,
  trackTheMapCounts: ({ track, bitmap, free }: { track: number; bitmap: number; free: number }) =>
    `Track ${track}: the map counts ${bitmap} free sectors, its bits say ${free}.`,
  theDirectoryGoesOn: ({ track, sector }: { track: number; sector: number }) =>
    `The directory goes on at track ${track} sector ${sector}, which the image does not have.`,
  theDirectorysChainComes: "The directory's chain comes back to itself; it was read once.",
  theDirectorySaysBlocks: ({
    recordedName,
    stated,
    blocks,
  }: {
    recordedName: string;
    stated: number;
    blocks: number;
  }) => `${recordedName}: the directory says ${stated} blocks, its chain has ${blocks}.`,
  thePartitionLeavesThe: ({ recordedName }: { recordedName: string }) =>
    `${recordedName}: the partition leaves the disk.`,
  aSideSectorLies: ({ name, t, s }: { name: string; t: number; s: number }) =>
    `${name}: a side sector lies at track ${t} sector ${s}, which the image does not have.`,
  andShareTrackSector: ({
    name,
    other,
    t,
    s,
  }: {
    name: string;
    other: string;
    t: number;
    s: number;
  }) => `${name} and ${other} share track ${t} sector ${s}.`,
  itsChainGoesOn: ({ t, s }: { t: number; s: number }) =>
    `its chain goes on at track ${t} sector ${s}, which the disk does not have.`,
  itsChainComesBack: ({ t, s }: { t: number; s: number }) =>
    `its chain comes back to track ${t} sector ${s}.`,
  itsChainGoesOnAt: ({ t, s }: { t: number; s: number }) =>
    `its chain goes on at track ${t} sector ${s}, behind the end of the image.`,
  itSharesTrackSector: ({ t, s, other }: { t: number; s: number; other: string }) =>
    `it shares track ${t} sector ${s} with ${other}.`,
  anImageOfBytes: ({ image }: { image: number }) =>
    `An image of ${image} bytes is none of this family.`,
  disksOf40Tracks:
    'Disks of 40 tracks keep the map of the last five in different places; they are read and not written.',
  aNameHasAt: 'A name has at least one character.',
  isTooLongSixteen: ({ name }: { name: string }) =>
    `“${name}” is too long: sixteen characters at most.`,
  aCharacterOfIs: ({ name }: { name: string }) =>
    `A character of “${name}” is not in the set of these disks.`,
  meansSomethingElseTo: ({ wrong }: { wrong: string }) =>
    `“${wrong}” means something else to the disk’s own system and can’t stand in a name.`,
  theDiskHasBlocks: ({ free, path, needed }: { free: number; path: string; needed: number }) =>
    `The disk has ${free} blocks free; ${path} needs ${needed}.`,
  isAPartitionIt: ({ path }: { path: string }) => `${path} is a partition; it is kept as it is.`,
  isARecordFile: ({ path }: { path: string }) =>
    `${path} is a record file or a partition; it is kept as it is, and can’t be replaced.`,
  aLinkLeadsTo: ({ track, sector }: { track: number; sector: number }) =>
    `A link leads to track ${track} sector ${sector}, which the disk does not have; it can’t be written to.`,
  theDirectoryIsFull: 'The directory is full.',
};
