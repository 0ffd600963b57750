/** What the pages of sittings say. */
export const sittings = {
  howFarToRead: 'How far to read',
  fromBlock: 'From block',
  upTo: 'up to',
  blocks: 'blocks,',
  of: ({ blocks }: { blocks: string }) => `of ${blocks}`,
  blocksToRead: 'Blocks to read',
  from: 'From',
  upTo2: 'Up to',
  readThisMuchAt: ({ id }: { id: number }) => `Read this much at station ${id}`,
  whatWasLookedAt: ({ model, serial }: { model: string; serial: string }) =>
    `${model}, ${serial}. What was looked at is kept and not read twice.`,
  tracks: ({ tracks }: { tracks: string }) => `${tracks} tracks`,
  tracksSectorsBytes: ({
    tracks,
    sectors,
    bytes,
  }: {
    tracks: string;
    sectors: string;
    bytes: string;
  }) => `${tracks} tracks, ${sectors} sectors, ${bytes} bytes`,
  to: 'to',
  everySecondStep: ', every second step',
  bothHeads: 'both heads',
  head: ({ head }: { head: number | undefined }) => `head ${head}`,
  head2: ({ head }: { head: number }) => `head ${head}`,
  cylindersToRead: 'Cylinders to read',
  to2: 'To',
  to3: ({ name, to }: { name: string; to: number }) => `${name}, to ${to}`,
  notKnownYet: 'not known yet',
  aFewSeconds: 'a few seconds',
  minS: ({ seconds, seconds2 }: { seconds: number; seconds2: string }) =>
    `${seconds} min ${seconds2} s`,
  layoutShowsWithThe: 'layout shows with the first tracks',
  stationStarted: ({
    id,
    station,
    stepping,
    device,
    startedAt,
  }: {
    id: number;
    station: string;
    stepping: number;
    device: string;
    startedAt: string;
  }) =>
    `Station ${id} · ${station}${stepping === 2 ? ' · two steps a cylinder' : ''} · ${device} · started ${startedAt}`,
  about: 'about',
  leftOfThisPass: 'left of this pass',
  viewFromAfar: 'View from afar',
  stackOfBegunThen: ({ begun, codes }: { begun: number; codes: number }) =>
    `Stack: ${begun} of ${codes} begun, then`,
  itsLabelWasScanned: 'Its label was scanned at this drive.',
  scanItsLabelTo: 'Scan its label to be sure that it is the one.',
  openItsDocket: 'Open its docket',
  whatHappened: 'What happened',
  pausingAfterThisRequest: 'Pausing after this request',
  pausingAfterThisTrack: 'Pausing after this track',
  pausedWithTracksKept: ({ tracks }: { tracks: number }) => `Paused with ${tracks} tracks kept`,
  theBenchAsksFor: 'The bench asks for a hand',
  cleanTheHeadOf: ({ id }: { id: number }) => `Clean the head of station ${id}`,
  soFarItIs: 'So far it is like',
  whichIsKeptAlready: ({ same, of }: { same: number; of: number }) =>
    `, which is kept already: ${same} of ${of} tracks that can be compared are the same.`,
  readAStackAt: ({ id }: { id: number }) => `Read a stack at station ${id}`,
  disksAreReadOne: ({ station }: { station: string }) =>
    `${station}. Disks are read one after the other, unattended; a hand only changes them, and the drive notices that.`,
  fromTheRegister: 'From the register',
  nothingThatWaitsFits: 'Nothing that waits fits this drive.',
  readInTheOrder: 'Read in the order in which they are ticked.',
  read: 'Read',
  thisOne: 'this one',
  these: ({ chosen }: { chosen: number | string }) => `these ${chosen}`,
  newOnesNamedBy: 'New ones, named by a pattern',
  firstCode: 'First code',
  howMany: 'How many',
  whatTheyAreN: 'What they are; {n} counts',
  fogLogsDiskN: 'Fog logs, disk {n}',
  registerAndReadThem: 'Register and read them',
};
