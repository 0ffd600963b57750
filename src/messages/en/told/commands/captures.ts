/** What the commands say of captures, layouts and the flux of images. */
export const ofCaptures = {
  decodeTakes: 'decode takes one capture, or several of one disk',
  encodeNeeds: 'encode needs --layout ID|FILE and --out FILE',
  revolutionsTakes: '--revolutions takes 1 to 20',
  compareTakes: 'compare takes two captures or images',
  layoutsTakes: 'layouts takes one id or file at the most',
  passesTakes: ({ text }: { text: string }) =>
    `--passes takes a number, or from-to: ${text} is neither`,
  thereIsNoLayout: ({ given }: { given: string }) =>
    `there is no layout ${given}, nor a file of that name; "spindle layouts" lists those that ship`,
  isNoUsableLayout: ({ path, problems }: { path: string; problems: string[] }) =>
    `${path} is no usable layout:\n${problems.map((each) => `  ${each}`).join('\n')}`,
  isNoCapture: ({ path }: { path: string }) =>
    `${path} is no flux capture: neither a header nor a reading was found in it.`,
  noFlatImage: ({ isProposed }: { isProposed: boolean }) => {
    const way = '--propose FILE writes a layout worked out from them, which --layout FILE takes';
    return (
      'No layout fits this capture, so there is no flat image and no sidecar. --json gives the ' +
      `sectors that were found${isProposed ? `; ${way}` : ''}.`
    );
  },
  thereIsNothingToPropose: ({ layout }: { layout: string }) =>
    `${layout} fits; there is nothing to propose.`,
  nothingToProposeFrom: 'Nothing was found that a layout could be worked out from.',
  noSectorToProposeFrom: 'No sector was found that a layout could be worked out from.',
  isWhatThereIs: ({
    layout,
    what,
    isDouble,
  }: {
    layout: string;
    what: string;
    isDouble: boolean;
  }) => `${layout}: ${what}${isDouble ? ', two steps a cylinder' : ''}`,
  noLayoutFits: 'No layout fits.',
  noLayoutFitsBut: ({ what }: { what: string }) => `No layout fits. What is there: ${what}`,
  trackIsStrange: ({ cylinder, head, what }: { cylinder: number; head: number; what: string }) =>
    `Cylinder ${cylinder}, head ${head} ${what}.`,
  furtherTracksAreStrange: ({ count }: { count: number }) =>
    `${count} further tracks are strange; --json lists them.`,
  isUsable: ({ layout, what, bytes }: { layout: string; what: string; bytes: number }) =>
    `${layout} is a usable layout: ${what}, ${bytes} bytes`,
  fits: ({ layout, what }: { layout: string; what: string }) => `${layout} fits: ${what}`,
  isWorkedOut: ({ what }: { what: string }) =>
    `No layout fits; this one is worked out from what is there: ${what}`,
  hasOtherBytes: (its: { path: string; bytes: number; layout: string; wanted: number }) =>
    `${its.path} has ${its.bytes} bytes of sectors, ${its.layout} has ${its.wanted}. ` +
    'Nothing was written.',
  wasEncoded: (its: { path: string; layout: string; tracks: number; turns: number }) =>
    `${its.path}: ${its.layout}, ${its.tracks} tracks, ${its.turns} turns each`,
  areNoMatch: ({ a, b, first, second }: { a: string; b: string; first: string; second: string }) =>
    `${a} is ${first}, ${b} is ${second}: there is nothing to compare sector by sector.`,
  ofNoKnownLayout: 'of no known layout',
  differ: 'differ',
  firstOnly: 'sound in the first only',
  secondOnly: 'sound in the second only',
  neither: 'sound in neither',
  same: 'the same',
  sectorCompared: (its: { cylinder: number; head: number; r: number; difference: string }) =>
    `cylinder ${its.cylinder}, head ${its.head}, sector ${its.r}: ${its.difference}`,
  differsFrom: ({ what, bytes, from }: { what: string; bytes: number; from: number }) =>
    `${what}, ${bytes} bytes from ${from}`,
};
