/** What the pages of charts say. */
export const charts = {
  asUsual: 'as usual',
  eightTimesTheUsual: 'eight times the usual time or more',
  sixtyFourTimesThe: 'sixty-four times the usual time or more',
  asked: ({ extent, extent2, value }: { extent: string; extent2: number; value: string }) =>
    `${extent}${extent2 > 1 ? `, asked ${extent2} times` : ''}${value}`,
  notReadYet: 'not read yet',
  surfaceOfTheDevice: 'Surface of the device: bands of equal stretches, its start on top',
  shownOnTheSurface: 'Shown on the surface',
  aBandIsBlocks: ({ span, span2 }: { span: string; span2: string }) =>
    `a band is ${span} blocks, ${span2}`,
  wholeDevice: 'whole device',
  asATable: 'as a table',
  soAreFrom: ({ extent, extent2 }: { extent: string; extent2: string }) =>
    `; so are ${extent} from ${extent2}`,
  andMore: ({ files }: { files: number }) => ` and ${files} more`,
  text: ({ files, filesPart }: { files: string; filesPart: string }) => `; ${files}${filesPart}`,
  block: ({
    cursor,
    extent,
    extentPart,
    filesPart,
  }: {
    cursor: string;
    extent: string;
    extentPart: string;
    filesPart: string;
  }) => `Block ${cursor}: ${extent}${extentPart}${filesPart}`,
  pointAtAPlace:
    'Point at a place to see what is known of it. ← → go to the next that is not firm, + ' +
    'and − look closer, a click or Enter opens a band, 0 shows all.',
  howSound: 'how sound',
  howOftenAsked: 'how often asked',
  howLongItTook: 'how long it took',
  surfaceAsATable: 'Surface as a table',
  allThatWereRead: 'all that were read are firm',
  theFirstOfThem: ({ listed }: { listed: number }) => `, the first ${listed} of them here`,
  stretchesNotFirm: ({ odd, oddPart }: { odd: number; oddPart: string }) =>
    `${odd} ${odd === 1 ? 'stretch' : 'stretches'} not firm${oddPart}`,
  blocks: ({ blocks, oddPart }: { blocks: string; oddPart: string }) =>
    `${blocks} blocks; ${oddPart}`,
  fromBlock: 'From block',
  blocks2: 'Blocks',
  grade: 'Grade',
  asked2: 'Asked',
  filesOnIt: 'Files on it',
  head0: 'head 0',
  aFullTurn: 'a full turn',
  surfaceOneBandA: 'Surface: one band a cylinder, outermost on top',
  readingsItTook: 'readings it took',
  timingError: 'timing error',
  passThatSuppliedIt: 'pass that supplied it',
  andMore2: ({ n }: { n: number }) => `${n} and more`,
  ofACell: ({ from, timingFrom }: { from: number; timingFrom: number | undefined }) =>
    `${from}–${timingFrom} % of a cell`,
  over: ({ from }: { from: number }) => `over ${from} %`,
  passAndLater: ({ n }: { n: number }) => `pass ${n} and later`,
  pass: ({ n }: { n: number }) => `pass ${n}`,
  theSame: 'the same',
  soundInOneOnly: 'sound in one only',
  soundInNeither: 'sound in neither',
  tracksReadOfThem: ({ tracks, tracks2 }: { tracks: number; tracks2: number }) =>
    `${tracks} tracks read; ${tracks2} of them firm throughout`,
  cylinder: 'Cylinder',
  head: 'Head',
  readings: 'Readings',
  sectorsThatAreNot: 'Sectors that are not firm',
  rightInTurns: ({
    r,
    grade,
    seen,
    seenSound,
  }: {
    r: number;
    grade: string;
    seen: number;
    seenSound: number;
  }) => `${r} ${grade}${seen > 0 ? ` (right in ${seenSound} of ${seen} turns)` : ''}`,
  by: ({ replaceAll }: { replaceAll: string }) => `, by ${replaceAll}`,
  readRightInOf: ({ seenSound, seen }: { seenSound: number; seen: number }) =>
    `; read right in ${seenSound} of ${seen} turns`,
  deletedDataMark: '; deleted-data mark',
  sector: ({
    r,
    grade,
    how,
    seenPart,
    deletedPart,
  }: {
    r: number;
    grade: string;
    how: string;
    seenPart: string;
    deletedPart: string;
  }) => `sector ${r}: ${grade}${how}${seenPart}${deletedPart}`,
  wholeChart: 'whole chart',
  png: 'PNG',
  svg: 'SVG',
  head1: 'head 1',
  sectorsReadings: ({ sectors, tries }: { sectors: number; tries: number }) =>
    `, ${sectors} sectors, ${tries} ${tries === 1 ? 'reading' : 'readings'}`,
  notReadYet2: ', not read yet',
  cylinderHead: ({
    cylinder,
    head,
    markPart,
  }: {
    cylinder: number;
    head: number;
    markPart: string;
  }) => `Cylinder ${cylinder}, head ${head}${markPart}`,
  aClickOrEnter: ' A click, or Enter, opens its track.',
  pointAtASector: ({ onOpenPart }: { onOpenPart: string }) =>
    'Point at a sector, or use the arrow keys and the space bar, to see what is known of ' +
    `it.${onOpenPart} + and − look closer, < and > along the turn, 0 shows all; or Ctrl ` +
    'and Shift with the wheel.',
  grades: 'grades',
};
