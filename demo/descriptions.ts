/** What the sample scenario says of some of its media, of a set and of a lot. */
import type { Elements } from '@/core/description/elements';
import type { Acquisition } from '@/core/description/acquisition';
import type { Rights } from '@/core/description/rights';
import type { NamedKind } from '@/server/features/media/named-records';
import type { OwnerKind } from '@/server/features/media/owners';

interface DemoDescription {
  kind: OwnerKind;
  name: string;
  elements: Elements;
  /** Its agreement is the paper below. */
  acquisition?: Omit<Acquisition, 'agreement'>;
  agreement?: { name: string; text: string };
}

export const demoDescriptions: readonly DemoDescription[] = Object.freeze([
  {
    kind: 'lots',
    name: 'lot 2',
    elements: {
      creator: ['Skerrow Point survey office'],
      coverage: ['Skerrow Point', 'Outer Narrows'],
      language: ['en'],
      extent: ['11 disks in a card box'],
    },
    acquisition: {
      from: 'Skerrow Point survey office',
      on: '2026-03',
      how: 'deposit',
      notes: 'Left when the office moved; to be kept with the chart room’s papers.',
    },
    agreement: {
      name: 'deposit-agreement-lot-2.txt',
      text: 'The survey office leaves eleven disks with the archive, which may read, keep and show them.',
    },
  },
  {
    kind: 'sets',
    name: 'Fog signal logs',
    elements: {
      subject: ['fog signals', 'navigation marks', 'weather'],
      type: ['Dataset'],
      date: ['1986/1991'],
    },
  },
  {
    kind: 'media',
    name: 'SKP-0098',
    elements: {
      alternative: ['Fog logs and tides 90'],
      creator: ['M. Tarrant, second keeper'],
      date: ['1987/1990'],
      description: [
        'Buoy positions and hours of fog, kept month by month.\nTide tables of 1990 were added by another hand.',
      ],
    },
  },
]);

interface DemoRights extends Rights {
  kind: OwnerKind;
  name: string;
}

/** What may be done with some of them. */
export const demoRights: readonly DemoRights[] = Object.freeze([
  {
    kind: 'lots',
    name: 'lot 2',
    statement: 'http://rightsstatements.org/vocab/InC-EDU/1.0/',
    words: 'For reading and teaching; the survey office is named.',
    restriction: null,
    isPersonal: false,
  },
  {
    kind: 'media',
    name: 'SKP-0102',
    statement: '',
    words: '',
    restriction: {
      reason: 'it names pupils who may be living',
      opensOn: '2062-01-01',
    },
    isPersonal: false,
  },
]);

interface DemoNamed {
  kind: NamedKind;
  name: string;
  contact?: string;
  identifier?: string;
  notes?: string;
}

/** What is known of a lender and of a machine. */
export const demoNamed: readonly DemoNamed[] = Object.freeze([
  {
    kind: 'lenders',
    name: 'Skerrow Point survey office',
    contact: 'Orrin County Record House, chart room; E. Wren, who kept the office’s books',
    notes: 'Closed in 1996. What is left of it lies with the county.',
  },
  {
    kind: 'machines',
    name: 'log-house desk computer, 16-bit',
    identifier: 'inventory 22817',
    notes: 'Stood in the log house until the move; two bays for disks.',
  },
]);

/** What was agreed on for some lots: when they came, and by when they go back. */
export const demoLots = Object.freeze([
  { name: 'lot 3', lender: 'harbour school', cameIn: '2026-09-14', handBackBy: '2026-11-20' },
  { name: 'lot 4', lender: 'keeper, north light', cameIn: '2026-10-02', handBackBy: '2027-03-31' },
] as const);

/** Media that came or went, with the paper that was signed for them. */
export const demoReceipts = Object.freeze([
  {
    ...{ kind: 'arrived', day: '2026-10-02', person: 'A. Brennick' },
    ...{ notes: 'In two card boxes, wrapped in newspaper.', of: { lot: 'lot 4' } },
  },
  {
    ...{ kind: 'sent-out', day: '2026-10-20', person: 'county conservation workshop' },
    ...{ backBy: '2026-11-24', notes: 'Liner to be cleaned.', of: { codes: ['SKP-0101'] } },
  },
] as const);
