/** What the pages say where media, sets and lots are described. */
import { acquired } from '../../told/names/acquired';
import { counted } from '../../words';
import { elements } from '../../told/names/elements';

interface HowMany {
  lots: number;
  sets: number;
  lenders: number;
  machines: number;
}

export const descriptions = {
  aDateIs: 'A year, month or day, such as 1987, 1987-03, 1987~ for about, or 1985/1992 for a span.',
  aLanguageIs: 'Languages are written as tags: en, de, pt-BR.',
  aTypeIs: 'One of the types in the list.',
  sayWhat: 'An empty value says nothing.',
  elements,
  acquired,
  description: 'Description',
  describeIt: 'Describe it',
  asDublinCore: 'As Dublin Core, XML',
  nothingSaid:
    'Nothing is said of it yet beside what is registered: who made it, when, what it holds.',
  saidOfSet: ({ name }: { name: string }) => `of its set, ${name}`,
  saidOfLot: ({ name }: { name: string }) => `of its lot, ${name}`,
  acquisition: 'acquired',
  howAcquired: ({ how, from, on }: { how: string; from: string; on: string }) =>
    `${how}${from && ` from ${from}`}${on && `, ${on}`}`,
  agreement: 'Agreement',
  theAgreement: ({ name }: { name: string }) => `agreement: ${name}`,
  agreementIsGone: 'its agreement was taken away',
  about: 'One value a line. What a set or a lot says counts for its media where they say nothing.',
  keepDescription: 'Keep it',
  howItCame: 'How it was acquired',
  sayHow: 'Say it of this one',
  fromWhom: 'From whom',
  when: 'When',
  how: 'How',
  notes: 'Notes',
  noAgreement: 'none',
  agreementLies: 'A paper that lies beside it',
  lot: ({ media }: { media: string }) => `Lot · ${media}`,
  set: ({ media }: { media: string }) => `Set · ${media}`,
  ofMedia: ({ all, read }: { all: number; read: number }) =>
    all === 0
      ? 'No medium belongs to it'
      : `${all} ${all === 1 ? 'medium' : 'media'}, ${read === all ? 'all' : read} read`,
  correctLot: 'Correct the lot',
  correctSet: 'Correct the set',
  facts: 'What is registered',
  papers: 'Papers',
  ofThisLot: 'Of this lot',
  ofThisSet: 'Of this set',
  media: 'Media',
  theFirst: ({ shown, all }: { shown: number; all: number }) =>
    `The first ${shown} of ${all}; the rest are in Holdings and Arrivals.`,
  isRead: 'read',
  isNotRead: 'not read yet',
  lender: 'lender',
  cameIn: 'came in',
  handBackBy: 'to be handed back by',
  howRead: 'how it is read',
  reading: ({ revolutions, tries, sweep }: { revolutions: number; tries: number; sweep: string }) =>
    `${revolutions} ${revolutions === 1 ? 'turn' : 'turns'} first, at most ${tries} readings, ${sweep}`,
  inward: 'outermost to innermost',
  outward: 'innermost to outermost',
  codePattern: 'Codes',
  gently: 'gently',
  members: 'should have',
  membersOf: ({ members }: { members: number }) => `${members} media`,
  missing: 'missing',
  notKnown: 'not known',
  whatItIsCalled: 'What it is called',
  howManyMembers: 'How many media it should have',
  aboutSet: 'Its media follow its name. What it was stays in the ledger.',
  howMany: ({ lots, sets, lenders, machines }: HowMany) =>
    [
      lots && counted(lots, 'lot'),
      sets && counted(sets, 'set'),
      lenders && counted(lenders, 'lender'),
      machines && counted(machines, 'machine'),
    ]
      .filter(Boolean)
      .join(', ') || 'Nothing',
  wordsOfRecords: 'A name, a lender, words of what is said of it …   /',
  noLotNoSet:
    'No lot and no set answers to that. A lot or a set begins with the first medium that names it.',
  notAllListed: 'There are more: ask for less to reach the others.',
  lots: 'Lots',
  sets: 'Sets',
  cameInHead: 'Came in',
  backByHead: 'Back by',
  membersHead: 'Should have',
  readHead: 'Read',
  readOf: ({ read, all }: { read: number; all: number }) => `${read} of ${all}`,
  allLotsAndSets: 'Lots, sets, lenders, machines',
  code: 'Code',
  title: 'Title',
  place: 'Place',
  state: 'State',
};
