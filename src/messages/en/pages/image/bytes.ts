/** What the pages of bytes say. */
export const bytes = {
  hearFromHere: 'Hear from here as sound',
  searchATextIn: 'Search: “a text” in quotes, or hexadecimal, ?? for any byte',
  searchTheImage: 'Search the image',
  search: 'Search',
  previous: 'Previous',
  next: 'Next',
  goToAPlace: 'Go to a place, hexadecimal',
  goToATable: 'Go to a table',
  ofThem: ({ areas }: { areas: number }) => `${areas} of them`,
  opening: ({ code }: { code: string }) => `Opening ${code} …`,
  thereIsNoImage: 'There is no image yet',
  aSittingMakesThe: 'A sitting makes the first one; then it can be looked at here byte by byte.',
  bytes: ({ size }: { size: string }) => `· ${size} bytes`,
  inThisImage: ({ count, count2 }: { count: number; count2: string }) =>
    count === 0
      ? 'It is not in this image'
      : `It stands ${count === 1 ? 'once' : `${count2} times`} in this image`,
  text: ({ name, areas }: { name: string; areas: number }) =>
    `${name}${areas > 1 ? ' and more' : ''}`,
  bytesOf: ({ path }: { path: string }) => `Bytes of ${path}`,
  bytesOfNoFile: 'Bytes of no file and no table',
  bytesOfTheImage: 'Bytes of the image',
  to: ({ from, from2 }: { from: string; from2: string }) => `${from} to ${from2}`,
  movePageKeysTurn:
    '· ↑ ↓ move, Page keys turn, Home and End jump · underlined: a field of a table · hatched: no sound sector',
  whatLiesHere: 'What lies here',
  stringsS: 'Strings · S',
  noRunOfPrintable: 'No run of printable characters is that long.',
  atLeast: 'At least',
  characters: 'characters',
  fromTheStart: 'from the start',
  moreFrom: ({ offset }: { offset: string }) => `more from ${offset}`,
  noSoundSectorFilled: 'no sound sector filled it',
  to2: ({ offset, offset2 }: { offset: string; offset2: string }) => `${offset} to ${offset2}`,
  fromItsByte: ({ at }: { at: string }) => `from its byte ${at}`,
  noFileAndNo: 'No file and no table of a volume: free space, or of a kind that is not known.',
  noSoundSectorFilledZeros: ({ doubts }: { doubts: string }) =>
    `No sound sector filled ${doubts}: zeros stand there.`,
};
