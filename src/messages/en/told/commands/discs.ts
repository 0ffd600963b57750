/** What the commands say of raw images of discs. */
export const ofDiscs = {
  discTakes: 'disc takes one image, or its cue sheet',
  flagsOfEach: 'disc takes the flags of the image, and of each reading of --also',
  isNoDisc: ({ path }: { path: string }) =>
    `${path} is neither a cue sheet nor an image of raw sectors of 2352 bytes. For an image of ` +
    '2,048-byte sectors there is "spindle contents".',
  sheetNamesWhatIsNotThere: ({ name }: { name: string }) =>
    `The cue sheet names ${name}, which is not beside it.`,
  trackWritten: ({ number, path }: { number: number; path: string }) =>
    `track ${number} written into ${path}`,
  thereIsNoSound: 'there is no track of sound on this disc',
  isNoWholeNumber: ({ path }: { path: string }) =>
    `${path} is no whole number of 2,048-byte sectors.`,
  rawSectorsIn: ({ sectors, path, sheet }: { sectors: number; path: string; sheet: string }) =>
    `${sectors} raw sectors in ${path}, the sheet in ${sheet}`,
  alsoTakesOneImage: '--also takes readings of a disc in one image; this one is in several.',
  saysNotWhereItLies: ({ path }: { path: string }) =>
    `${path} has no raw sector that says where it lies.`,
  trackFrom: ({ start, sectors }: { start: number; sectors: number }) =>
    `from ${start}, ${sectors} sectors`,
  tally: ({ good, mendable, lost }: { good: number; mendable: number; lost: number }) =>
    `${good} good, ${mendable} mendable, ${lost} lost`,
  lost: ({ sectors, isMore }: { sectors: string[]; isMore: boolean }) =>
    `lost: ${sectors.join(', ')}${isMore ? ' …' : ''}`,
  repairWritesOne: '--repair writes one image; this disc is in several files.',
  writtenMended: ({ sectors, path, sheet }: { sectors: number; path: string; sheet: string }) =>
    `written with ${sectors} mended sectors into ${path}, its sheet into ${sheet}`,
};
