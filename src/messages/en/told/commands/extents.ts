/** What the commands say of devices, their images and the blocks of them. */
export const ofExtents = {
  extentsTakes: 'extents takes an image, its sidecar, or a device to read',
  extentsTakesOne: 'extents takes one image, or several with --merge',
  mergeTakes: 'extents --merge takes two or more images and --out FILE',
  readNeeds: 'extents --read needs --out FILE',
  leavesNothing: ({ from, to, blocks }: { from: number; to: number; blocks: number }) =>
    `from ${from} to ${to} leaves nothing to read of ${blocks} blocks`,
  speaksOfAnother: ({ path, blocks, bytes }: { path: string; blocks: number; bytes: number }) =>
    `${path} speaks of another device: ${blocks} blocks of ${bytes} bytes. Nothing was read.`,
  nothingToGoOnBy: ({ path }: { path: string }) =>
    `${path} exists already, and there is no sidecar beside it to go on by; it was not touched.`,
  theSameCommandGoesOn: ({ what }: { what: string }) =>
    `${what} What was read is kept; the same command goes on.`,
  imageCantBeWrittenOn: ({ why }: { why: string }) =>
    `The image can't be written on (${why}). What was read is kept; make room, and the same ` +
    'command goes on.',
  isNoSidecar: ({ path, why }: { path: string; why: string }) =>
    `${path} is no sidecar of an image of a device: ${why}.`,
  contradictsItself: ({ path, why }: { path: string; why: string }) =>
    `${path} contradicts itself: ${why}.`,
  tries: ({ count }: { count: number }) => `${count} tries`,
  blocksByGrade: ({ blocks, bytes, grades }: { blocks: string; bytes: number; grades: string[] }) =>
    `${blocks} blocks of ${bytes} bytes: ${grades.join(', ')}`,
  areNotSound: ({ from, to, files }: { from: string; to: string; files: string }) =>
    `blocks ${from} to ${to} are not sound: ${files}`,
  noFile: 'no file',
  andMore: ({ files, more }: { files: string[]; more: number }) =>
    `${files.join(', ')}${more > 0 ? ` and ${more} more` : ''}`,
  blocksOfOtherSizes: 'The images have blocks of different sizes; they are not copies of one disk.',
  nothingInCommon:
    'The images have next to nothing in common: they are not copies of one disk. Nothing was ' +
    'written.',
  blocksMerged: ({ sound, all, compared }: { sound: string; all: string; compared: string }) =>
    `${sound} of ${all} blocks sound, ${compared} of them in two copies or more`,
  theyDifferAt: ({ what, places }: { what: string; places: string[] }) =>
    `${what}; they differ at ${places.join(', ')}`,
};
