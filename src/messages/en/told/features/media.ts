import { capital } from '../../words';

/** What is registered of a medium, as it is called. */
export const factNames = {
  code: 'code',
  form: 'form',
  title: 'title',
  labelText: 'sticker',
  lender: 'lender',
  lot: 'lot',
  setName: 'set',
  setNumber: 'place in the set',
  condition: 'condition',
  marks: 'marks',
  treatFirst: 'to be treated first',
  writeProtected: 'write-protected',
  recordedSide: 'recorded side',
  isBlank: 'a blank of ours',
  density: 'density',
  machine: 'machine',
  shelf: 'shelf',
  origin: 'where it came from',
};

const densities = { double: 'double density', high: 'high density' };
const sweeps = { inward: 'outermost to innermost', outward: 'innermost to outermost' };

const namedKinds = { lenders: 'lender', machines: 'machine' };
const namedFacts = {
  ...{ name: 'name', contact: 'to be reached', kind: 'kind' },
  ...{ identifier: 'identifier', notes: 'notes' },
};
interface NamedWasNow {
  fact: keyof typeof namedFacts;
  was: string;
  now: string;
}

const lotFacts = {
  name: 'name',
  lender: 'lender',
  cameIn: 'came in',
  handBackBy: 'to be handed back by',
  revolutions: 'turns of a first reading',
  tries: 'most readings of a track',
  sweep: 'order of reading',
  gentle: 'gently',
  codePattern: 'pattern of codes',
};

/** What the feature media says: in errors, in the ledger, of work under way. */
interface OriginIs {
  machine?: string;
  jumpers: string;
  notes: string;
}

interface PaperLaid {
  name: string;
  code?: string;
  setName?: string;
}
interface PaperTaken {
  name: string;
  setName: string | null;
  /** Of older entries left out. */
  lotName?: string | null;
  sha256: string;
}

export const media = {
  isRegisteredAlreadyNothing: ({ code }: { code: string }) =>
    `${code} is registered already. Nothing was changed; choose another code.`,
  registered: ({ code, title }: { code: string; title: string }) => `${code} registered: ${title}.`,
  isRegisteredAlready: ({ code }: { code: string }) => `${code} is registered already`,
  standsTwice: ({ code }: { code: string }) => `${code} stands twice`,
  nothingWasRegistered: ({ wrong, more }: { wrong: string[]; more: number }) =>
    `Nothing was registered: ${wrong.join('; ')}${more > 0 ? ` and ${more} more` : ''}.`,
  noMarks: 'no marks',
  notToBeRead: 'not to be read before treatment',
  mayBeRead: 'may be read',
  notWriteProtected: 'not write-protected',
  recorded: ({ sideWord }: { sideWord: string }) => `recorded: ${sideWord}`,
  outOf: ({ machine, jumpers }: { machine: string; jumpers: string }) =>
    `out of ${machine || 'a machine not known'}${jumpers && `, jumpers ${jumpers}`}`,
  belongsTo: ({ setName, setNumber }: { setName: string; setNumber: number | null }) =>
    `belongs to ${setName}${setNumber === null ? '' : `, ${setNumber}`}`,
  belongsToNoSet: 'belongs to no set',
  described: ({ code, facts }: { code: string; facts: string[] }) =>
    `${code} described${facts.length > 0 ? `: ${facts.join('; ')}` : ''}.`,
  corrected: ({ code, changes }: { code: string; changes: string[] }) =>
    `${code} corrected: ${changes.join('; ')}.`,
  wasNow: ({ fact, was, now }: { fact: keyof typeof factNames; was: string; now: string }) =>
    `${factNames[fact] ?? fact} ${now} (was ${was})`,
  factIs: ({ fact, is }: { fact: keyof typeof factNames; is: string }) =>
    `${factNames[fact] ?? fact} ${is}`,
  isWithdrawn: ({ code, reason }: { code: string; reason: string }) =>
    `${code} was withdrawn (${reason}). Reinstate it first.`,
  isOneWithAnother: ({ code }: { code: string }) =>
    `${code} was found to be another medium: correct that`,
  isInUse: ({ code }: { code: string }) => `${code} is in use: nobody withdrew it.`,
  isInWork: ({ code }: { code: string }) =>
    `${code} is in a drive, or being read or settled. Nothing was changed; try again when that has ended.`,
  withdrawn: ({ code, reason }: { code: string; reason: string }) =>
    `${code} withdrawn: ${reason}. What was read of it stays.`,
  reinstated: ({ code, reason }: { code: string; reason: string }) =>
    `${code} reinstated: ${reason}.`,
  listOf: ({ items }: { items: string[] }) => items.join(', ') || '–',
  densityOf: ({ density }: { density: keyof typeof densities }) =>
    densities[density] ?? `${density}`,
  sweepOf: ({ sweep }: { sweep: keyof typeof sweeps }) => sweeps[sweep] ?? `${sweep}`,
  /** Entries from before machines had records have the machine here. */
  originIs: ({ machine, jumpers, notes }: OriginIs) =>
    [machine, jumpers && `jumpers ${jumpers}`, notes && `“${notes}”`].filter(Boolean).join(', ') ||
    'nothing',
  nothing: 'nothing',
  yes: 'yes',
  no: 'no',
  formWhileInDrive: 'it is in a drive: take it out before its form is corrected',
  formOfWhatWasRead:
    'it was read as what it is: a floppy stays one, and so does what is read in blocks',
  blankOfWhatWasRead: 'something was read of it: it is no blank',
  placeWithoutSet: 'a place in a set needs the set',
  codeIsAnothers: ({ code }: { code: string }) =>
    `${code} is the code of another medium, or was once, and stands on a label`,
  noSuchCode: ({ code }: { code: string }) => `no medium is called ${code}`,
  troubleOf: ({ code, trouble }: { code: string; trouble: string }) => `${code}: ${trouble}`,
  nothingWasCorrected: ({ wrong, more }: { wrong: string[]; more: number }) =>
    `Nothing was corrected. ${wrong.join('; ')}${more > 0 ? ` and ${more} more` : ''}.`,
  changedMeanwhile:
    'Some of it was changed while you looked. Nothing was corrected: look at what would change again.',
  lot: ({ name }: { name: string }) => `lot ${name}`,
  named: ({ kind, name }: { kind: keyof typeof namedKinds; name: string }) =>
    `${namedKinds[kind] ?? kind} ${name}`,
  namedIsThere: ({ named }: { named: string }) =>
    `There is a ${named} already. Nothing was changed; choose another name.`,
  namedCorrected: ({ named, changes }: { named: string; changes: string[] }) =>
    `${capital(named)} corrected: ${changes.join('; ')}.`,
  ofNamedWasNow: ({ fact, was, now }: NamedWasNow) =>
    `${namedFacts[fact] ?? fact} ${now} (was ${was})`,
  lotIsThere: ({ name }: { name: string }) =>
    `There is a lot called ${name} already. Nothing was changed; choose another name.`,
  lotCorrected: ({ name, changes }: { name: string; changes: string[] }) =>
    `Lot ${name} corrected: ${changes.join('; ')}.`,
  ofLotWasNow: ({ fact, was, now }: { fact: keyof typeof lotFacts; was: string; now: string }) =>
    `${lotFacts[fact] ?? fact} ${now} (was ${was})`,
  lentByCameIn: ({
    name,
    lender,
    cameIn,
    handBackBy,
    revolutions,
    tries,
    sweep,
    isGentle,
  }: {
    name: string;
    lender: string;
    cameIn: string;
    handBackBy: string;
    revolutions: number;
    tries: number;
    sweep: string;
    isGentle: boolean;
  }) =>
    `${name}: lent by ${lender}, came in ${cameIn}, to be handed back by ${handBackBy}; ` +
    `${revolutions} turns a track, at most ${tries} readings, ${sweep}${isGentle ? ', gently' : ''}.`,
  isNoPicturePng: ({ name }: { name: string }) =>
    `${name} is no picture (PNG, JPEG, GIF, WebP), no PDF and no text. Nothing was stored; save it as one of these.`,
  /** Entries of an older form have the set in words in place of a code. */
  laidBeside: ({ name, code, setName }: PaperLaid) =>
    `${name} laid beside ${code ?? `the set ${setName}`}.`,
  laidBesideIt: ({ name, beside }: { name: string; beside: string }) =>
    `${name} laid beside ${beside}.`,
  suchPaper: 'such paper',
  takenAwaySha256: ({ name, setName, lotName, sha256 }: PaperTaken) =>
    `${name} taken away${setName ? ` from the set ${setName}` : ''}` +
    `${lotName ? ` from the lot ${lotName}` : ''}; SHA-256 ${sha256}.`,
  setRenamed: ({ name, renamed }: { name: string; renamed: string }) =>
    `The set ${name} is called ${renamed} now.`,
  setIsThere: ({ name }: { name: string }) =>
    `There is a set called ${name} already. Nothing was changed; choose another name.`,
  set2: ({ name }: { name: string }) => `set ${name}`,
  /** Entries of an older form have words in place of a number that is not known. */
  theSetShouldHave: ({ name, members }: { name: string; members: number | string | null }) =>
    `The set ${name} should have ${members ?? 'a number not known of'} media.`,
  writeProtected: 'write-protected',
  nobodyKnown: 'nobody known',
  onADayNotKnown: 'on a day not known',
  noDaySet: 'no day set',
};
