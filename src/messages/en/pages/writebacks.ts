/** What the pages of writebacks say, and the printed certificate of one. */
import { grouped } from '@/core/text/grouped';

export const writebacks = {
  writeAnImageBack: 'Write an image back',
  writeAnImageBackTo: 'Write an image back to a disk',
  anotherOne: 'Another one',
  aCodeATitle: 'A code, a title, a lender, a file on it …   /',
  nothingKeptAnswersTo: 'Nothing kept answers to that.',
  imagesFound: 'Images found',
  tracksProved: ({ tracks }: { tracks: number }) => `${tracks} tracks proved`,
  ofBlocksProved: ({ proved, blocks }: { proved: string; blocks: string }) =>
    `${proved} of ${blocks} blocks proved`,
  transitionsCameBackOf: ({ reduce, max }: { reduce: string; max: string }) =>
    `Transitions came back ${reduce} % of a cell off on average, ${max} % at worst.`,
  itWasBlankBefore: 'It was blank before.',
  itHeldAFormat: 'It held a format without files before.',
  itHeldWhatIs: ({ heldAs }: { heldAs: null | string }) =>
    `It held what is kept as ${heldAs} before.`,
  itHeldDataBefore: 'It held data before, which a person let go.',
  itWorks: 'It works',
  itDoesNot: 'It does not',
  itWillNotBe: 'It will not be tried',
  sayItAnew: 'Say it anew',
  howDidItDo: 'How did it do in the old machine, or in an emulator of it?',
  whichMachineWhatIt: 'Which machine, what it did',
  station: ({ stationId }: { stationId: number }) => `Station ${stationId}`,
  asFlux: 'as flux',
  blockByBlock: 'block by block',
  started: ({ startedAt }: { startedAt: string }) => `started ${startedAt}`,
  to: 'to',
  itEndsAtThe: ' It ends at the next step.',
  whatIsOnIt: ({ target }: { target: string }) =>
    `What is on it will be gone. To write over it, type ${target}`,
  writeOver: ({ target }: { target: string }) => `Write over ${target}`,
  leaveItAsIt: 'Leave it as it is',
  certificatePdf: 'Certificate, PDF',
  asJson: 'as JSON',
  withItsTrial: 'with its trial',
  itWaitsForThe: 'It waits for the next blank',
  onceMoreToThe: ({ stationId }: { stationId: number }) =>
    `Once more, to the next blank in station ${stationId}`,
  giveItUp: 'Give it up',
  stationIsBusyWith: ({ id, target }: { id: number; target: string }) =>
    `Station ${id} is busy with ${target}.`,
  letWaitForThe: ({ code }: { code: string }) => `Let ${code} wait for the next blank there`,
  writeToInStation: ({ target, id }: { target: string; id: number }) =>
    `Write to ${target} in station ${id} and prove it`,
  writeTheFluxAs: ({ target }: { target: string }) => `Write the flux as it is to ${target}`,
  theFirstGoesTo:
    'The first goes to the blank that is in; the others begin by themselves as each next ' +
    'blank is put into that station.',
  toReturnItTo: 'To return it to a disk, put a blank in a station first.',
  toBeReadBy: 'To be read by',
  aMachineNotChosen: 'a machine not chosen',
  disksToMake: 'Disks to make',
  preCompensateTheInner: 'Pre-compensate the inner tracks',
  writeBacksWaitFor: ({ own, station }: { own: number; station: number }) =>
    `${own} ${own === 1 ? 'write-back waits' : 'write-backs wait'} for blanks at station ${station}`,
  nextTakeOutWhat: ({ source }: { source: string }) =>
    `, next ${source}: take out what is in it and put the next blank in.`,
  takeThemBack: ({ own }: { own: number }) => `Take ${own === 1 ? 'it' : 'them'} back`,
  noUnusedBlanksAre: 'No unused blanks are registered.',
  unusedBlanks: ({ stock }: { stock: string }) => `Unused blanks: ${stock}.`,
  noImageHasBeen: 'No image has been returned to a disk yet',
  ofWriteBacksProved: ({
    open,
    proved,
    rows,
    untold,
  }: {
    open: number;
    proved: number;
    rows: number;
    untold: number;
  }) =>
    `${open > 0 ? `${open} under way, ` : ''}${proved} of ${rows} write-backs proved` +
    (untold > 0 ? `, ${untold} not tried yet` : ''),
  anOriginalIsNever: 'An original is never a target',
  cardsForStandIn: 'Cards for stand-in drives',
  bySerialLine: 'By serial line',
  putABlankIn:
    'Put a blank in a station and look above for what is to go on it. What is on the blank ' +
    'is looked at first; every track is read back and compared.',
};

export const certificates = {
  writeBack: ({ id }: { id: number }) => `Write-back ${id}`,
  head: ({ source, target, outcome }: { source: string; target: string; outcome: string }) =>
    `${source} to ${target}: ${outcome}`,
  outcomes: {
    proved: 'proved',
    'not proved': 'not proved',
    failed: 'failed',
    'not ended': 'not ended',
  },
  signed: 'Signed, and the day',

  madeFrom: 'Made from',
  source: ({ code, title, lender }: { code: string; title: string; lender: string }) =>
    `${code}, ${title}${lender && `, lent by ${lender}`}`,
  image: 'Image',
  imageIs: ({ bytes, sha256 }: { bytes: number; sha256: string }) =>
    `${grouped(bytes)} bytes, SHA-256 ${sha256}`,
  asFlux: '; its flux as it was read',
  inDoubt: ({ inDoubt }: { inDoubt: number }) =>
    `; ${grouped(inDoubt)} of it in doubt, with zeros in their place`,
  writtenTo: 'Written to',
  target: ({
    code,
    title,
    form,
    found,
  }: {
    code: string;
    title: string;
    form: string;
    found: string;
  }) => `${code}, ${title}, ${form}; before: ${found}`,
  by: 'By',
  station: ({ number, model, serial }: { number: number; model: string; serial: string }) =>
    `station ${number}, ${model}, ${serial}`,
  layout: 'Layout',
  precompensated: ', inner tracks pre-compensated',
  meantFor: 'Meant for',

  tracks: 'Tracks',
  tracksProved: ({ proved, written, again }: { proved: number; written: number; again: number }) =>
    `${proved} of ${written} proved, ${again} written more than once`,
  failed: ({ named }: { named: string }) => `; failed: ${named}`,
  andOthers: ' and others',
  place: ({ cylinder, head }: { cylinder: number; head: number }) =>
    `cylinder ${cylinder} head ${head}`,
  margin: 'Margin',
  marginIs: ({ mean, worst, place }: { mean: string; worst: string; place: string }) =>
    `transitions ${mean} % of a cell off on average, ${worst} % at worst (${place}); ` +
    '25 % and more begin to fail',
  blocks: 'Blocks',
  blocksProved: ({
    proved,
    written,
    blockBytes,
  }: {
    proved: number;
    written: number;
    blockBytes: number;
  }) => `${grouped(proved)} of ${grouped(written)} of ${blockBytes} bytes proved`,
  stretch: ({ count, from }: { count: number; from: number }) =>
    `${grouped(count)} from ${grouped(from)}`,

  doneBy: 'Done by',
  worked: ({ operator, from, to }: { operator: string; from: string; to: string | null }) =>
    `${operator}, ${from}${to === null ? '' : ` to ${to}`}`,
  trial: 'Trial',
  nobodyHasSaid: 'nobody has said yet how it did in the machine',
  trials: {
    works: 'works',
    'does not work': 'does not work',
    'not to be tried': 'not to be tried',
  },
  trialIs: ({ outcome, note, by, at }: { outcome: string; note: string; by: string; at: string }) =>
    `${outcome}${note && `: ${note}`} (${by}, ${at})`,

  before: {
    notLookedAt: 'not looked at',
    nothing: 'nothing',
    withoutFiles: ({ label }: { label: string | null }) =>
      `a format without files${label ? `, “${label}”` : ''}`,
    keptAs: ({ heldAs }: { heldAs: string | null }) => `what is kept as ${heldAs}`,
    letGo: ({ files }: { files: string[] }) =>
      'data that was not kept, which a person let go' +
      (files.length > 0 ? ` (${files.join(', ')})` : ''),
  },
};
