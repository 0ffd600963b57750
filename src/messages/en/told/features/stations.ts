/** What the feature stations says: in errors, in the ledger, of work under way. */
export const stations = {
  theBenchCantBe:
    "The bench can't be reached. What was read is kept; switch it on, or check its cable, and try again.",
  theBenchWantsAnother:
    'The bench wants another token than the one that this application was started with. Start both ' +
    'together, or set SPINDLE_BENCH_TOKEN to that of the bench.',
  checkItsPowerAnd: ({ message }: { message: string }) =>
    `${message} Check its power and its cable, and that it is on the list of devices that may be read.`,
  takeTheDiskOut: ({ stationId }: { stationId: number }) =>
    `Take the disk out of station ${stationId} first: the head can't be reached.`,
  putTheDiskBack: ({ stationId }: { stationId: number }) =>
    `Put the disk back into station ${stationId}, and say it once more: the sitting goes on with it.`,
  headOfStationCleaned: ({
    stationId,
    readingsSinceCleaning,
  }: {
    stationId: number;
    readingsSinceCleaning: number;
  }) => `Head of station ${stationId} cleaned after ${readingsSinceCleaning} readings.`,
  goingOnWithA: 'Going on with a clean head',
  anotherMediumIsIn: ({ stationId }: { stationId: number }) =>
    `Another medium is in station ${stationId}. Take it out first.`,
  hardDisks: 'hard disks',
  opticalDiscs: 'optical discs',
  disks: ({ formName }: { formName: string }) => `${formName} disks`,
  doesNotFitStation: ({ code, id, takes }: { code: string; id: number; takes: string }) =>
    `${code} does not fit station ${id}: its drive takes ${takes}.`,
  isInStationTake: ({ code, id }: { code: string; id: number }) =>
    `${code} is in station ${id}. Take it out there first.`,
  putInStation: ({ code, stationId }: { code: string; stationId: number }) =>
    `${code} put in station ${stationId}.`,
  takenOutOfStation: ({ id }: { id: number }) => `Taken out of station ${id}.`,
  theLabelOfWas: ({ code, stationId }: { code: string; stationId: number }) =>
    `The label of ${code} was scanned: it is what is in station ${stationId}.`,
  stationShouldHoldAnd: ({
    stationId,
    code,
    code2,
  }: {
    stationId: number;
    code: string;
    code2: string;
  }) =>
    `Station ${stationId} should hold ${code}, and the label says ${code2}. Look at the ` +
    'disk in the drive before anything is read.',
  station: ({ id, passed, findings }: { id: number; passed: boolean; findings: string[] }) =>
    `Station ${id} ${passed ? 'passed its test' : 'did not pass its test'}: ${findings.join(' ')}`,
  theBenchHasNo: ({ drive }: { drive: string }) => `The bench has no drive ${drive} any more.`,
  thisDriveDeliversSectors:
    "This drive delivers sectors only: its speed and timing can't be measured. Read the " +
    'reference disk whole, and compare it with its copy.',
  readingCylinderHeadOf: ({
    cylinder,
    head,
    code,
  }: {
    cylinder: number;
    head: number;
    code: string;
  }) => `Reading cylinder ${cylinder}, head ${head} of ${code}`,
  nothingWasMadeOut: ({ code }: { code: string }) =>
    `Nothing was made out on ${code}: check that it is the reference disk, clean the head, and test again.`,
  putAReferenceDisk: ({ stationId }: { stationId: number }) =>
    `Put a reference disk into station ${stationId} first: the test reads what is known to be on it.`,
  stationTestedWith: ({
    stationId,
    model,
    serial,
    code,
  }: {
    stationId: number;
    model: string;
    serial: string;
    code: string;
  }) => `Station ${stationId}, ${model}, ${serial}: tested with ${code}.`,
  givenUpByHand: 'Given up by hand',
  stationIsNotBeing: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is not being tested.`,
  theTestOfStation: ({ stationId }: { stationId: number }) =>
    `The test of station ${stationId} was given up by hand.`,
  station2: ({ id }: { id: number }) => `station ${id}`,
  stationIsReadingPause: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is reading. Pause or stop it first; what was read is kept.`,
  stationIsWritingWait: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is writing. Wait until it is proved.`,
  stationIsBeingTested: ({ stationId }: { stationId: number }) =>
    `Station ${stationId} is being tested. It takes less than a minute.`,
  putItsOwnDisk: ({ stationId }: { stationId: number }) =>
    `Put its own disk back into station ${stationId} first.`,
};
