/** What the pages of loupe say. */
export const loupe = {
  readingTurn: ({ reading, turn }: { reading: number; turn: number }) =>
    `reading ${reading}, turn ${turn}`,
  reading: 'Reading',
  bytes: 'Bytes',
  check: 'Check',
  spread: 'Spread',
  checkRight: 'check right',
  checkWrong: 'check wrong',
  idOnlyNoData: 'ID only, no data field',
  notSeenInThis: 'not seen in this turn',
  noReadingHasIts: 'No reading has its bytes.',
  bytesOfSector: ({ r }: { r: number }) => `Bytes of sector ${r}`,
  theFirstAt: ({ place }: { place: number | undefined }) => `, the first at ${place}`,
  text: ({ places, placesPart }: { places: number; placesPart: string }) =>
    `${places}${placesPart}`,
  idAsRecorded: 'ID as recorded',
  cylinder: ({ c }: { c: number }) => `cylinder ${c}`,
  head: ({ h }: { h: number }) => `head ${h}`,
  sector: ({ r }: { r: number }) => `sector ${r}`,
  size: ({ n }: { n: number }) => `size ${n}`,
  checkAsRead: 'Check as read',
  checkOfTheBytes: 'Check of the bytes',
  rightIn: 'Right in',
  ofTurns: ({ seen, looks }: { seen: number; looks: number }) => `${seen} of ${looks} turns`,
  bytesThatDiffer: 'Bytes that differ',
  cellsAgainstTheCode: 'Cells against the code',
  why: 'Why',
  why2: ({ grade }: { grade: string }) => `Why ${grade}`,
  cylinderHead: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `· cylinder ${cylinder}, head ${head}`,
  readings: ({ readings }: { readings: number }) =>
    ` · ${readings} ${readings === 1 ? 'reading' : 'readings'}`,
  thereIsNoCopy: 'There is no copy to look into',
  thisTrackHasNo: 'This track has no readings',
  decodingTheTrack: 'Decoding the track …',
  nothingIsRecordedOn: 'Nothing is recorded on this track',
  bytesDifferTheFirst: ({ apart, apart2 }: { apart: number; apart2: number | undefined }) =>
    `; ${apart} ${apart === 1 ? 'byte differs' : 'bytes differ'}, the first at ${apart2}`,
  sectorIs: ({ r, grade, differ }: { r: number; grade: string; differ: string }) =>
    `Sector ${r} is ${grade}${differ}`,
  nextInDoubt: 'Next in doubt',
  lookCloser: 'Look closer',
  noCodeThatIs: 'No code that is known here fits its intervals.',
  intervalsRoundTheTurn: 'Intervals round the turn',
  usualRecovery: 'Usual recovery',
  tryOtherRecovery: 'Try other recovery',
  shortOnesOnTop: 'short ones on top; at the right how often each comes',
  ofTurns2: ({ maxRibbons, turns }: { maxRibbons: number; turns: number }) =>
    `; ${maxRibbons} of ${turns} turns`,
  turnsIntervalsRoundThe: ({ turns, from, to }: { turns: number; from: string; to: string }) =>
    `${turns} turns: intervals round the turn, from ${from} to ${to} hundredths of it`,
  fittedCellSIntervals: ({ cellTicks, from }: { cellTicks: string; from: string }) =>
    `Fitted cell ${cellTicks} µs; intervals of ${from} µs; dashed: where one is told from ` +
    'the next, as the clock is followed. Drag to look closer, Z to see the whole turn.',
  theReadingsOneAbove: 'The readings, one above the other',
  bytesToOfSector: ({ start, start2, r }: { start: number; start2: number; r: number }) =>
    `bytes ${start} to ${start2} of sector ${r}; differences raised; [ and ] move`,
  readings2: 'Readings',
  cells: 'Cells',
  ofBytesToA: ({ start, start2 }: { start: number; start2: number }) =>
    `of bytes ${start} to ${start2}; a stroke is a transition`,
  sectorAs: ({ r }: { r: number }) => `Sector ${r} as`,
  settled: 'settled',
  oneReadingHasIt: 'one reading has it',
  speedThatFaltered: 'speed that faltered',
  muchJitter: 'much jitter',
  crowdedInnerTracks: 'crowded inner tracks',
  ofAnErrorTaken: 'of an error taken at once',
  ofItPutInto: 'of it put into the cell',
  theCellMayDrift: 'the cell may drift',
  ofTheFittedCell: 'of the fitted cell to start',
  ofPeakShiftTaken: 'of peak shift taken out',
  notSeen: 'not seen',
  anotherRecovery: 'Another recovery',
  asItWas: 'as it was',
  everyUsualRecoveryWas:
    'Every usual recovery was tried. A setting of your own is tried here at once, on every reading.',
  tryingIt: 'Trying it …',
  itChangesNothingMs: ({ milliseconds }: { milliseconds: number }) =>
    `It changes nothing (${milliseconds} ms).`,
  sector2: ({ r, from, to }: { r: number; from: string; to: string }) =>
    `Sector ${r}: ${from} → ${to}`,
  ms: ({ milliseconds }: { milliseconds: number }) => `(${milliseconds} ms)`,
  whyItIsBetter: 'Why it is better',
  keepItForThis: 'Keep it for this track',
  weighingAllTurns: 'Weighing all turns together …',
  howSureEachPlace: ({ turns }: { turns: number }) =>
    `How sure each place is by the times of ${turns === 1 ? 'its one turn' : `all ${turns} turns`}, ` +
    'checks apart: the taller, the likelier that a cell is otherwise',
  notWeighed: ({ trouble }: { trouble: string }) => `The turns were not weighed: ${trouble}`,
  noWholeTurn: 'No reading holds a whole turn: there is nothing to weigh together.',
  placesNotSure: ({ places }: { places: number }) =>
    `${places} ${places === 1 ? 'place is' : 'places are'} not sure by the times of all turns`,
  oneIn: ({ power }: { power: number }) => `1 in ${(10 ** power).toLocaleString('en')}`,
  oneInCount: ({ count }: { count: string }) => `otherwise 1 in ${count}`,
  allTurnsTogether: 'All turns together',
  leastCertainPlace: 'Least certain place',
  aTransitionLies: 'A transition lies',
  cellsAboutItsPlace: ({ spread }: { spread: string }) => `±${spread} cells off`,
  neighboursPushIt: 'Neighbours push it',
  cellsAtMost: ({ push }: { push: string }) => `${push} cells at most`,
  aTurnMisses: 'A turn misses',
  aTurnAdds: 'A turn adds',
  percentOfThem: ({ percent }: { percent: string }) => `${percent} % of them`,
  garbage: 'Garbage',
  garbageInTurn: ({ reading, turn, percent }: { reading: number; turn: number; percent: string }) =>
    `${percent} % of reading ${reading}, turn ${turn}`,
  inNoTurn: 'in no turn',
  sectorsOfTheTrack: 'Sectors of the track',
  none: 'none',
};
