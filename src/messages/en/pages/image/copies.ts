/** What the pages of copies say. */
export const copies = {
  neverWritten: 'Never written',
  wiped: 'Wiped',
  formattedOverSomething: 'Formatted over something',
  inUse: 'In use',
  notEnoughWasRead: 'Not enough was read to say',
  theDeviceSaidOf: 'The device said of itself:',
  takenInAsA: 'Taken in as a file; ',
  blocksOfBytes: ({
    blocks,
    blockBytes,
    blocks2,
  }: {
    blocks: string;
    blockBytes: string;
    blocks2: string;
  }) => `${blocks} blocks of ${blockBytes} bytes, ${blocks2}.`,
  putTogetherFromReadings: ({ readings, differing }: { readings: number; differing: number }) =>
    ` Put together from ${readings} readings` +
    (differing > 0
      ? `, which differ in ${differing} places`
      : ', which agree wherever two have a block sound') +
    '.',
  whatTheBlocksWithout: 'What the blocks without sound bytes cost',
  fromBlock: 'From block',
  blocks: 'Blocks',
  grade: 'Grade',
  asked: 'Asked',
  filesOnIt: 'Files on it',
  none: 'none',
  tracksOfTheDisc: 'Tracks of the disc',
  track: 'Track',
  holds: 'Holds',
  fromSector: 'From sector',
  sectors: 'Sectors',
  length: 'Length',
  out: 'Out',
  sound: 'sound',
  soundWithPreEmphasis: 'sound, with pre-emphasis',
  mode2: 'mode 2',
  mode1: 'mode 1',
  data: ({ startsWithPart }: { startsWithPart: string }) => `data, ${startsWithPart}`,
  wav: 'WAV',
  whatTheDriveCounts: 'What the drive counts of itself',
  count: 'Count',
  before: 'Before',
  after: 'After',
  notTold: 'not told',
  h: ({ offset }: { offset: string }) => `${offset}h`,
  further: ({ rest }: { rest: string }) => `Further: ${rest}.`,
  inside: 'Inside',
  partition: ({ partition }: { partition: number }) => `partition ${partition} · `,
  bytes: ({ totalBytes }: { totalBytes: string }) => `· ${totalBytes} bytes,`,
  bytes2: ({ inUnits, freeBytes }: { inUnits: string; freeBytes: string }) =>
    `${inUnits} (${freeBytes} bytes)`,
  free: ({ reasons }: { reasons: string }) => `free · ${reasons}`,
  at: ({ offset }: { offset: string }) => `at ${offset}`,
  extractTheMarked: ({ marked }: { marked: number }) => `Extract the ${marked} marked`,
  unmarkThem: 'Unmark them',
  name: 'Name',
  type: 'Type',
  bytes3: 'Bytes',
  changed: 'Changed',
  inDoubt: 'In doubt',
  theVolumeHoldsNo: 'The volume holds no files.',
  ofAreListed: ({ shown, of }: { shown: string; of: string }) => `${shown} of ${of} are listed.`,
  asking: 'Asking …',
  listMore: 'List more',
  jAndKOr: ' · J and K, or the arrow keys, go through the files; M marks one',
  packTheImage: 'Pack the image',
  changed2: ({ title }: { title: string }) => `${title}, changed`,
  madeFrom: 'Made from',
  aBlankVolume: 'a blank volume',
  byChanges: ({ changes }: { changes: number }) =>
    `by ${changes} ${changes === 1 ? 'change' : 'changes'}:`,
  seeThem: 'see them',
  volumesWereMadeFrom: 'Volumes were made from it:',
  beginAnAssemblyWith: 'Begin an assembly with it',
  itsSidecarGradesOddities: 'its sidecar: grades, oddities, what was filled in',
  allFilesWithA: 'all files, with a manifest of what they were called',
  rawImageEveryByte: 'raw image, every byte of every sector',
  fluxCapture: 'flux capture',
  described: 'described',
  describedAbout: 'The same with what is said of it in its header; every reading as it is',
  itsSheetWhereEach: 'its sheet: where each track lies in the raw image',
  whatItsTrackOf: 'what its track of data holds',
  imageOfTheDevice: 'image of the device',
  flatImage: 'flat image',
  aSittingMakesThe: 'A sitting makes the first one.',
  takenInFrom: ({ sourceName }: { sourceName: null | string }) => `Taken in from ${sourceName}`,
  putTogetherHere: 'Put together here',
  settledFromEverySitting: 'Settled from every sitting',
  bytes4: ({ bytes }: { bytes: string }) => `${bytes} bytes`,
  as: 'as',
  download: 'Download',
  compare: 'Compare',
  comparing: 'Comparing …',
  showWhatDiffers: 'Show what differs',
  withWord: ({ code, title }: { code: string; title: string }) => `with ${code}, ${title}`,
  sittingWithSitting: ({ id, id2 }: { id: number; id2: number }) =>
    `sitting ${id} with sitting ${id2}`,
  firstPassOfSitting: ({ id }: { id: number }) => `first pass of sitting ${id} with all of it`,
  whereverBothAreSound: ({ same }: { same: number }) =>
    `Wherever both are sound they are the same: ${same} sectors`,
  sectorsDifferAreThe: ({ differ, same }: { differ: number; same: number }) =>
    `${differ} sectors differ, ${same} are the same`,
  cylinderHeadSector: ({ cylinder, head, r }: { cylinder: number; head: number; r: number }) =>
    `cylinder ${cylinder}, head ${head}, sector ${r}`,
  bytesFrom: ({ bytes, firstByte }: { bytes: number; firstByte: number | undefined }) =>
    `${bytes} ${bytes === 1 ? 'byte' : 'bytes'} from ${firstByte}`,
  andMore: ({ listed }: { listed: number }) => `and ${listed} more`,
  sectorsInDoubtAt: ({
    doubts,
    places,
    value,
  }: {
    doubts: number;
    places: string;
    value: string;
  }) => `${doubts} ${doubts === 1 ? 'sector' : 'sectors'} in doubt at ${places}${value}`,
  deletedAllOfIt: 'deleted; all of it is free still: very likely whole',
  deletedPartOfIt: 'deleted; part of it holds other files',
  deletedNothingIsLeft: 'deleted; nothing is left',
  chainDamaged: 'chain damaged',
  sectorsAt: ({ sectorsInDoubt, offset }: { sectorsInDoubt: number; offset: string }) =>
    `${sectorsInDoubt} ${sectorsInDoubt === 1 ? 'sector' : 'sectors'} at ${offset}`,
  link: 'link',
  extract: 'Extract',
  marked: 'marked',
  locked: 'locked',
  noDate: 'no date',
  deleted: 'deleted',
  extractFolder: 'Extract folder',
  picture: ({ drawn }: { drawn: string }) => `${drawn} picture`,
  textWord: 'text',
  bytesWord: 'bytes',
  basicLinesAnd: ({ lines, after }: { lines: number; after: number }) =>
    `BASIC, ${lines} ${lines === 1 ? 'line' : 'lines'}` +
    (after > 0 ? `, and ${after} ${after === 1 ? 'byte' : 'bytes'} of something else` : ''),
  thePictureEndsBefore: 'The picture ends before it is complete.',
  joliet: 'Joliet',
  rockRidge: 'Rock Ridge',
  theBootCatalogue: 'the boot catalogue (El Torito)',
  thePlainDirectoryOf: 'the plain directory of ISO 9660',
  theSameOnes: ', the same ones',
  thatAreNotAbove: ({ only, lacks }: { only: number; lacks: number }) =>
    `; ${only} that are not above, ${lacks} of those above missing`,
  as2: 'As',
  listsIt: 'lists it',
  files: ({ files, compared }: { files: number; compared: string }) =>
    `: ${files} ${files === 1 ? 'file' : 'files'}${compared}`,
  namedHere: 'Named here',
  namedAbove: 'Named above',
  leadsTo: ({ link }: { link: string }) => `leads to ${link}`,
  theFirstAreShown: ({ rows }: { rows: number }) => `The first ${rows} are shown.`,
  anyLineEnd: 'any line end',
  crLf: 'CR LF',
  noneOneLine: 'none: one line',
  theFileCantBe: "The file can't be read.",
  fileAtTheCursor: 'File at the cursor',
  chooseAFileOr: 'Choose a file, or press J, to read it here.',
  zerosStandThere: ': zeros stand there.',
  nothingOfItIs: 'Nothing of it is left: its clusters hold other files.',
  sha256: ({ match }: { match: string }) => `SHA-256 ${match}`,
  noSoundSector: 'no sound sector',
  asBytes: 'as bytes',
  hearItAsSound: 'Hear it as sound',
  as3: ({ shown, value }: { shown: string; value: string }) => `as ${shown}${value}`,
  bFor: ({ next }: { next: string }) => `· B for ${next}`,
  theFirstOfBytes: ({ data, bytes }: { data: string; bytes: string }) =>
    ` · the first ${data} of ${bytes} bytes`,
  characterSet: 'Character set',
  usualHere: ({ filesystem }: { filesystem: string }) => `usual here: ${filesystem}`,
  lineEnds: 'Line ends',
  sectorsMayBeAs: ({ made }: { made: number }) =>
    `${made} ${made === 1 ? 'sector' : 'sectors'} may be as ${made === 1 ? 'it was' : 'they were'} made`,
  whatWasPutOn:
    'What was put on a disk on purpose is kept as it is and never mended. A person decides.',
  andMore2: ({ made }: { made: number }) => `and ${made} more`,
  keptAsMade: 'kept as made',
  heldToBeDamage: 'held to be damage',
  asMadeKeepIt: 'As made, keep it',
  itIsDamage: 'It is damage',
  sectorsAreOddHarmless: ({ odd }: { odd: number }) =>
    `${odd === 1 ? 'sector is' : 'sectors are'} odd, harmless: every check passes`,
  andMore3: ({ odd }: { odd: number }) => `and ${odd} more`,
  ofBytesInUse: ({ totalBytes, totalBytes2 }: { totalBytes: string; totalBytes2: string }) =>
    `${totalBytes} of ${totalBytes2} bytes in use`,
  whereItsFilesLie: ({ inside }: { inside: string }) =>
    `where its files lie on the volume that holds ${inside}`,
  files2: 'files',
  filesTouchedBySectors: 'files touched by sectors in doubt',
  free2: 'free',
  deletedStillThere: 'deleted, still there',
  cylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `cylinder ${cylinder}, head ${head}`,
  sector: ({ r }: { r: number }) => `, sector ${r}`,
  aFlatImageSays: 'A flat image says nothing of the surface it came from.',
  thereIsNoReading: 'There is no reading yet.',
  hurtTracksWeighed: ({ done, of }: { done: number; of: number }) =>
    `All turns of ${done} of ${of} hurt tracks are weighed.`,
  anotherDriveShould: ({
    station,
    sectors,
    inDoubt,
  }: {
    station: number;
    sectors: number;
    inDoubt: number;
  }) =>
    `Another drive may help: station ${station} should read about ${sectors} of the ${inDoubt} ` +
    'sectors in doubt or lost.',
  itTurnsSlower: ({ readIn }: { readIn: number }) =>
    `Its drive turns slower than that of station ${readIn}, where it was read.`,
  itGaveOfOthers: ({ gained, of }: { gained: number; of: number }) =>
    `It gave ${gained} of ${of} sectors that other drives had left.`,
  readBySingleTurns: 'Don’t wait: read the rest by single turns',
  turnsWereLeftOut:
    'All turns of some hurt tracks were not weighed together, as was asked. That may read more of them.',
  weighAllTurns: 'Weigh all turns together',
  beingSettledAnewFrom:
    'Being settled anew from what is kept. What stands here is the copy before.',
  layout: 'Layout',
  nextWouldBeWith: ({ id, confidence }: { id: string; confidence: number }) =>
    ` Next would be ${id} with ${confidence} %.`,
  noKnownLayoutFits: 'No known layout fits; the image follows one worked out from what is there',
  keepItUnderA: ({ describes }: { describes: string }) =>
    `${describes}. Keep it under a name of its own, and disks like this one are known from then on.`,
  itsId: 'Its id',
  whatItIs: 'What it is',
  keepTheLayout: 'Keep the layout',
  tracksHoldSomethingElse: ({ strange }: { strange: number }) =>
    `${strange} ${strange === 1 ? 'track holds' : 'tracks hold'} something else than the rest`,
  andMore4: ({ strange }: { strange: number }) => `and ${strange} more`,
  cylinderHead2: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `Cylinder ${cylinder}, head ${head}`,
  nothingWasRead: ({ place }: { place: string }) => `${place}: nothing was read`,
  everySectorIsSound: ({ place }: { place: string }) => `${place}: every sector is sound`,
  sectorIs: ({ place, r, grade }: { place: string; r: number; grade: string }) =>
    `${place}: sector ${r} is ${grade}`,
  sectorsAreInDoubt: ({ place, unsound }: { place: string; unsound: number }) =>
    `${place}: ${unsound} sectors are in doubt`,
  allItsTurnsTogether: 'all its turns together',
  readingTurn: ({
    reading,
    max,
    recoveryWord,
  }: {
    reading: number;
    max: number;
    recoveryWord: string;
  }) => `reading ${reading}, turn ${max}, ${recoveryWord}`,
  noCodeWasFound: 'no code was found',
  readingsDecodedHereIn: ({ readings, max }: { readings: number; max: number }) =>
    `· ${readings} ${readings === 1 ? 'reading' : 'readings'}, decoded here in ${max} ms`,
  noSectorOfAny: 'No sector of any kind lies on this track, or none can be made out.',
  decodingCylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `Decoding cylinder ${cylinder}, head ${head} …`,
  openInTheLoupe: 'Open in the loupe',
  closeTheTrack: 'Close the track',
  sector2: 'Sector',
  bytesCameFrom: 'Bytes came from',
  why: 'Why',
  remarks: 'Remarks',
  ofCylinder: ({ c }: { c: number }) => `of cylinder ${c}`,
  deletedDataMark: 'deleted-data mark',
};
