/** What the pages of transfers say. */
export const transfers = {
  aboutAMinute: 'about a minute',
  aboutMinutes: ({ minutes }: { minutes: number }) => `about ${minutes} minutes`,
  aboutHours: ({ minutes }: { minutes: string }) => `about ${minutes} hours`,
  orInTwoSteps:
    'Or in two steps: the image as a file on a disk that the machine reads, to be unpacked there.',
  noVolumeHereIs: 'No volume here is large enough for it.',
  theDiskThatCarries: 'The disk that carries it',
  planBothSteps: 'Plan both steps',
  isPutTogetherWith: 'is put together, with the image as',
  settleItReturnIt: '. Settle it, return it to a blank, and see it proved.',
  onTheFarMachine: 'On the far machine put that disk in, and let its own program write',
  toADiskOf: ({ bytes }: { bytes: string }) => `to a disk of ${bytes} bytes`,
  readThatDiskHere: 'Read that disk here, if it comes back: its digest should be',
  sendAnImage: 'Send an image',
  sendAnImageTo: 'Send an image to a far machine',
  bytesAtThisRate: ({ bytes, bytes2 }: { bytes: string; bytes2: string }) =>
    `· ${bytes} bytes, ${bytes2} at this rate`,
  anotherOne: 'Another one',
  theBenchHasNo: 'The bench has no serial line, or can’t be reached.',
  sendOverLine: ({ code, line }: { code: string; line: string }) =>
    `Send ${code} over line ${line}`,
  line: 'Line',
  bitsASecond: 'Bits a second',
  itsNameOverThere: 'Its name over there',
  blocksOf1024: 'Blocks of 1 024 bytes',
  aReceivingProgramTo: 'A receiving program to be typed in first, where the far machine has none.',
  fromAFile: 'From a file',
  charactersASecond: 'Characters a second',
  millisecondsBehindALine: 'Milliseconds behind a line',
  secondsOfTyping: ({ seconds }: { seconds: number }) => `${seconds} seconds of typing`,
  whatToDoAt: 'What to do at the other end',
  setTheLineThere: ({ rate }: { rate: number }) =>
    `Set the line there to ${rate} bits a second, eight data bits, no parity, one stop bit, and no handshake.`,
  leaveTheMachineAt: ({ loaderLines, typingRate }: { loaderLines: number; typingRate: number }) =>
    `Leave the machine at its prompt, and type nothing: ${loaderLines} lines are typed in ` +
    `from here at ${typingRate} characters a second, and the last one starts the program.`,
  startItsReceivingProgram: 'Start its receiving program for XMODEM',
  withCrcAndBlocks: ' with CRC and blocks of 1 024 bytes (1K)',
  withCrc: ' with CRC',
  andGive: ', and give',
  asTheName: 'as the name',
  waitUntilItSays: ({ bytes, bytes2 }: { bytes: string; bytes2: string }) =>
    `Wait until it says that it is done: ${bytes} bytes, ${bytes2}. The file there is ` +
    'filled up to a multiple of 128 bytes.',
  ifItStopsStart:
    'If it stops, start it again there: it goes on from here by itself, or is given up here.',
  printIt: 'Print it',
  lineBitsASecond: ({
    line,
    rate,
    who,
    startedAt,
  }: {
    line: string;
    rate: number;
    who: string;
    startedAt: string;
  }) => `Line ${line} · ${rate} bits a second · ${who}, started ${startedAt}`,
  bytesAcknowledged: 'Bytes acknowledged',
  blocksWentMoreThan: ({ repeated }: { repeated: number }) =>
    ` ${repeated} ${repeated === 1 ? 'block' : 'blocks'} went more than once.`,
  giveItUp: 'Give it up',
  forMachinesThatHave: 'For machines that have no other way in',
  onTheirWayOver: ({ open }: { open: number }) =>
    `${open} on ${open === 1 ? 'its' : 'their'} way over a line`,
  nothingWasSentOver: 'Nothing was sent over a line yet',
  ofArrived: ({ rows, rows2 }: { rows: number; rows2: number }) => `${rows} of ${rows2} arrived`,
  searchForTheImage:
    'Search for the image above. It goes block by block, each acknowledged by the far ' +
    'machine; where that has no receiving program, one of yours is typed in first, at the ' +
    'pace that it can take.',
};
