/** What the pages of holdings say. */
export const holdings = {
  whoseAreThey: 'From whom do they come?',
  saidOnce:
    'Said once for all that is taken in now, and offered again for the next. Both may stay empty.',
  goOn: 'Go on',
  sideBySide: 'Side by side',
  lookingWhatIsAlike: 'Looking what is alike …',
  holdings: 'Holdings',
  nothingKeptIsAlike: 'Nothing kept is alike',
  imagesAreHeldMore: ({ images }: { images: number }) =>
    `${images} ${images === 1 ? 'image is' : 'images are'} held more than once`,
  pairsAreTheSame: ({ nearly }: { nearly: number }) =>
    `${nearly} ${nearly === 1 ? 'pair is' : 'pairs are'} the same but for a few tracks`,
  pairsOfDisksShare: ({ pairs }: { pairs: number }) =>
    `${pairs} ${pairs === 1 ? 'pair of disks shares' : 'pairs of disks share'} files`,
  noTwoMediaHave:
    'No two media have the same image, the same tracks or a file in common, that nobody ' +
    'has settled. It is looked at anew whenever something is taken in.',
  theSameDisk: 'The same disk',
  aCopyOf: ({ copyOf }: { copyOf: string }) => `(a copy of ${copyOf})`,
  bytes: ({ bytes }: { bytes: string }) => `· ${bytes} bytes,`,
  andSideBySide: ({ code, each }: { code: string; each: string }) =>
    `${code} and ${each} side by side`,
  theSameDiskBut: 'The same disk but for a few tracks',
  disk: 'Disk',
  tracksTheSame: 'Tracks the same',
  of: ({ same, of }: { same: number; of: number }) => `${same} of ${of}`,
  theSameFilesOn: 'The same files on different disks',
  filesShared: 'Files shared',
  suchAs: 'Such as',
  ofAnd: ({ shared, ofA, ofB }: { shared: number; ofA: number; ofB: number }) =>
    `${shared} of ${ofA} and ${ofB}`,
  media: ({ media }: { media: number }) => `${media} ${media === 1 ? 'medium' : 'media'}`,
  imagesPacked: ', images packed',
  images: ', images',
  withTexts: ', with texts',
  sounds: ', sounds',
  soundsPacked: ', sounds as FLAC',
  filesTakenOut: 'Files taken out',
  of2: ({ filesDone, filesInAll }: { filesDone: string; filesInAll: string }) =>
    `${filesDone} of ${filesInAll}`,
  images2: 'images',
  files: 'files',
  itsZipIsNo: 'Its ZIP is no longer kept; take them out once more.',
  keptUntil: ({ keptUntil }: { keptUntil: string }) => `Kept until ${keptUntil}.`,
  giveItUp: 'Give it up',
  download: 'Download',
  thePackedImage: 'the packed image',
  theZip: 'the ZIP',
  theirFilesAFolder: 'Their files, a folder a medium, under names that any system takes',
  theirImagesEachWith: 'Their images, each with its card',
  theirImagesPackedSo:
    'Their images, packed so that they are read where they lie and any gunzip unpacks them',
  theirSounds: 'Their sounds: a WAV for each and each track, an SFZ for each program',
  theirSoundsPacked: 'Their sounds, the WAVs packed without loss as FLAC',
  takeThemOut: 'Take them out',
  takeMediaOutAs: ({ copies }: { copies: number }) =>
    `Take ${copies} ${copies === 1 ? 'medium' : 'media'} out as one ZIP`,
  itIsMadeIn:
    'It is made in the background, and waits here. A manifest says what each file was ' +
    'called, what of it is doubtful, and the digest of each image.',
  besideEachTextAnd: 'Beside each text and each BASIC program, the same in UTF-8',
  whatIsTakenOut: 'What is taken out',
  leaveIt: 'Leave it',
  takeEverythingKnowingly: 'Take everything, knowingly',
  state: 'State',
  medium: 'Medium',
  volume: 'Volume',
  lender: 'Lender',
  lot: 'Lot',
  layout: 'Layout',
  narrowTheHoldings: 'Narrow the holdings',
  showAllAgain: 'Show all again',
  more: ({ values }: { values: number }) => `${values} more`,
  inQuarantine: 'In quarantine',
  extract: 'Extract',
  deleted: 'deleted',
  noDate: 'no date',
  files2: 'Files',
  theFirstOf: ({ found, filesFound }: { found: number; filesFound: string }) =>
    `the first ${found} of ${filesFound}`,
  insideFiles: 'Inside files',
  noneFound: 'none found',
  copyOf: 'copy of',
  inQuarantine2: 'in quarantine',
  notKnown: 'not known',
  code: 'Code',
  whatItIs: 'What it is',
  inDoubt: 'In doubt',
  sha256: 'SHA-256',
  alsoHeldAs: 'Also held as',
  ofTheMediaKept: ({ total }: { total: string }) => `${total} of the media kept`,
  mediaAreKept: ({ total }: { total: string }) => `${total} media are kept`,
  moreThan: 'more than ',
  files3: ({
    moreFilesPart,
    filesFound,
    filesFound2,
  }: {
    moreFilesPart: string;
    filesFound: string;
    filesFound2: number;
  }) => `${moreFilesPart}${filesFound} ${filesFound2 === 1 ? 'file' : 'files'}`,
  orMore: ({ maxTexts }: { maxTexts: number }) => `${maxTexts} or more`,
  theWordsStandIn: ({ said, texts }: { said: number | string; texts: number }) =>
    `; the words stand in ${said} ${texts === 1 ? 'file' : 'files'}`,
  mediaAndAnswerTo: ({
    total,
    names,
    query,
    inTexts,
  }: {
    total: string;
    names: string;
    query: string;
    inTexts: string;
  }) => `${total} media and ${names} answer to “${query}”${inTexts}`,
  indexAsCsv: 'Index as CSV',
  asJson: 'as JSON',
  signatures: 'Signatures',
  whatIsAlike: 'What is alike',
  takeInAFolder: 'Take in a folder',
  takeInAFile: 'Take in a file',
  nothingKeptAnswersTo:
    'Nothing kept answers to that. Every word must occur in a label, a lender or a digest, ' +
    'in the name of a file, or inside one.',
  nothingIsKeptYet: 'Nothing is kept yet. Read a medium at the bench, or drop an image here.',
  ofMedia: ({ copies, total }: { copies: string; total: string }) => `${copies} of ${total} media`,
  andOfFiles: ({ found, filesFound }: { found: string; filesFound: string }) =>
    ` and ${found} of ${filesFound} files`,
  areShown: 'are shown.',
  showMore: 'Show more',
  orNarrowThemBy: ', or narrow them by a word or at the side.',
  dropImagesCapturesOr: 'Drop images, captures, bags or folders anywhere here to take them in',
  forWord: ({ query }: { query: string }) => ` for “${query}”`,
  looking: ({ queryPart }: { queryPart: string }) => `Looking${queryPart} …`,
  searchLabelsLendersFile: 'Search labels, lenders, file names and digests',
  labelsLendersFileNames: 'Labels, lenders, file names, words inside files, digests …   /',
  imagesTakenIn: 'Images taken in',
  ofTakenIn: ({ done, of }: { done: number; of: number }) => `${done} of ${of} taken in`,
  stopHere: 'Stop here',
  tryingItOnSamples: 'Trying it on samples …',
  packedWouldBeAbout: ({ bytes }: { bytes: string }) => `Packed, ${bytes} would be about`,
  hardlyWorthIt: 'hardly worth it',
  saved: 'saved',
  inAbout: ', in about',
  aSecond: 'a second',
  min: ({ seconds }: { seconds: number }) => `${seconds} min`,
  orLess: 'or less.',
  theSame: 'the same',
  theSameUnderAnother: 'the same, under another name',
  otherBytes: 'other bytes',
  onlyHere: 'only here',
  onlyThere: 'only there',
  andHaveTheSame: ({ code, code2 }: { code: string; code2: string }) =>
    `${code} and ${code2} have the same image, byte for byte`,
  ofTracksTheSame: ({ same, of }: { same: number; of: number }) =>
    `${same} of ${of} tracks the same`,
  filesTheSameNot: ({ shared, apart }: { shared: number; apart: number }) =>
    `${shared} ${shared === 1 ? 'file' : 'files'} the same, ${apart} not`,
  title: 'Title',
  sticker: 'Sticker',
  notNoted: 'not noted',
  condition: 'Condition',
  notSaid: 'not said',
  surface: 'Surface',
  aFlatImage: 'a flat image',
  text: ({ doubt }: { doubt: number }) =>
    `${doubt === 0 ? 'every sector sound' : `${doubt} in doubt`}`,
  image: 'Image',
  bytes2: ({ imageBytes }: { imageBytes: string }) => `${imageBytes} bytes`,
  registered: 'Registered',
  from: ({ sourceName }: { sourceName: string }) => `, from ${sourceName}`,
  settledIsACopy: ({ of, to }: { of: string; to: string }) => `Settled: ${of} is a copy of ${to}.`,
  settledTheyAreNot: 'Settled: they are not the same, whatever they share.',
  takeItBack: 'Take it back',
  isACopyOf: ({ code, code2 }: { code: string; code2: string }) => `${code} is a copy of ${code2}`,
  theyAreNotThe: 'They are not the same',
  andCantBeLaid: ({ a, b }: { a: string; b: string }) => `${a} and ${b} can't be laid side by side`,
  layingAndSideBy: ({ a, b }: { a: string; b: string }) => `Laying ${a} and ${b} side by side …`,
  everyFileIsThe: ({ files }: { files: number }) =>
    `${files === 0 ? 'Neither holds a file that can be read.' : 'Every file is the same on both.'}`,
  moreAreNotListed: ({ more }: { more: string }) => `${more} more are not listed.`,
  onlyThoseThatDiffer: 'only those that differ',
  alsoTheThatAre: ({ files }: { files: number }) => `also the ${files} that are the same`,
  sectorBySectorIn: ({ code }: { code: string }) => `sector by sector, in the docket of ${code}`,
  on: ({ code }: { code: string }) => `On ${code}`,
  bytes3: 'Bytes',
  changed: 'Changed',
  howItDiffers: 'How it differs',
  aFluxCapture: 'a flux capture',
  aRawImageOf: 'a raw image of a disc',
  underWay: 'under way',
  bytes4: ({ file }: { file: number }) => `${file} bytes …`,
  takenIn: 'taken in',
  refused: 'refused',
  as: ({ code, kind }: { code: string; kind: string }) => `as ${code}, ${kind}`,
  theFolder: 'The folder',
  itHoldsMoreThan: ({ maxFiles }: { maxFiles: number }) =>
    `It holds more than ${maxFiles} files. Nothing was taken in; take it in folder by folder.`,
  stoppedAfterOfImages: ({ done, images }: { done: number; images: number }) =>
    `Stopped after ${done} of ${images} images; those are kept. The same folder can be ` +
    'taken in again: what is held already is noticed.',
  noImageLiesNear: 'No image lies near it that it could belong to. It was left where it is.',
  laidBeside: ({ code }: { code: string }) => `laid beside ${code}`,
  laidBesideTheSet: ({ setName }: { setName: null | string }) => `laid beside the set ${setName}`,
  filesOnTheirWay: 'Files on their way in',
  onItsWayIf: 'on its way. If it broke off, choose the same file again: it goes on where it was.',
  itCantBeRead: ({ error }: { error: string }) =>
    `It can't be read any further (${error}). What was taken in is kept.`,
  itCantBeReadNothing: ({ error }: { error: string }) =>
    `It can't be read (${error}). Nothing was taken in.`,
};
