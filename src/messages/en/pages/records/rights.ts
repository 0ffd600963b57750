/** What the pages say of what may be done with media, and of to whom they are handed out. */
import { capital, counted } from '../../words';
import type { RightsStatement } from '@/core/description/rights';

const statements: Record<RightsStatement, string> = {
  'http://rightsstatements.org/vocab/InC/1.0/': 'In copyright',
  'http://rightsstatements.org/vocab/InC-OW-EU/1.0/': 'In copyright: EU orphan work',
  'http://rightsstatements.org/vocab/InC-EDU/1.0/': 'In copyright: educational use permitted',
  'http://rightsstatements.org/vocab/InC-NC/1.0/': 'In copyright: non-commercial use permitted',
  'http://rightsstatements.org/vocab/InC-RUU/1.0/':
    'In copyright: rights-holders not locatable or identifiable',
  'http://rightsstatements.org/vocab/NoC-CR/1.0/': 'No copyright: contractual restrictions',
  'http://rightsstatements.org/vocab/NoC-NC/1.0/': 'No copyright: non-commercial use only',
  'http://rightsstatements.org/vocab/NoC-OKLR/1.0/': 'No copyright: other known legal restrictions',
  'http://rightsstatements.org/vocab/NoC-US/1.0/': 'No copyright: United States',
  'http://rightsstatements.org/vocab/CNE/1.0/': 'Copyright not evaluated',
  'http://rightsstatements.org/vocab/UND/1.0/': 'Copyright undetermined',
  'http://rightsstatements.org/vocab/NKC/1.0/': 'No known copyright',
  'https://creativecommons.org/publicdomain/mark/1.0/': 'Public domain mark 1.0',
  'https://creativecommons.org/publicdomain/zero/1.0/': 'CC0 1.0',
  'https://creativecommons.org/licenses/by/4.0/': 'CC BY 4.0',
  'https://creativecommons.org/licenses/by-sa/4.0/': 'CC BY-SA 4.0',
  'https://creativecommons.org/licenses/by-nd/4.0/': 'CC BY-ND 4.0',
  'https://creativecommons.org/licenses/by-nc/4.0/': 'CC BY-NC 4.0',
  'https://creativecommons.org/licenses/by-nc-sa/4.0/': 'CC BY-NC-SA 4.0',
  'https://creativecommons.org/licenses/by-nc-nd/4.0/': 'CC BY-NC-ND 4.0',
};

export const rights = {
  statements,
  rights: 'rights',
  setRights: 'Set its rights',
  nothingSaid: 'nothing is said',
  restriction: 'restriction',
  saidOf: { set: 'of its set', lot: 'of its lot', medium: '' },
  heldBy: {
    set: ({ name }: { name: string }) => `of its set, ${name}`,
    lot: ({ name }: { name: string }) => `of its lot, ${name}`,
    source: ({ name }: { name: string }) => `its image was made from ${name}`,
    medium: () => '',
  },
  restrictedUntil: ({ opensOn }: { opensOn: string }): string =>
    opensOn ? `restricted until it opens on ${opensOn}` : 'restricted until somebody opens it',
  opened: ({ opensOn }: { opensOn: string }) => `was restricted; open since ${opensOn}`,
  isPersonal: 'holds what is personal of somebody',
  about:
    'A statement says what others may do with it. What is restricted, or personal, is read and ' +
    'described here as ever, and leaves the house only where somebody says to whom and why. ' +
    'What a set or a lot restricts is restricted in all its media.',
  statement: 'Statement',
  noStatement: 'none',
  anotherStatement: 'another, by its web address',
  addressOfStatement: 'Web address of the statement',
  inWords: 'In words',
  restrictIt: 'Restricted',
  why: 'Why',
  opensOn: 'Opens by itself on (or empty)',
  isRestricted: 'restricted',
  leftOut: ({ stays }: { stays: number }) =>
    `${counted(stays, 'medium', 'media')} more can’t leave the house, and ` +
    `${stays === 1 ? 'is' : 'are'} left out.`,
  personal: 'Holds what is personal of somebody',
  personalHelp: 'Restricted until this is taken away',
  keepRights: 'Keep them',
  aStatementIs: 'A web address, such as http://rightsstatements.org/vocab/InC/1.0/.',
  sayToWhom: 'Say to whom.',
  staysHere: 'Stays in the house',
  mayLeaveTo: ({ recipient }: { recipient: string }) =>
    `For now you may hand it out to ${recipient}; all that leaves stands in the ledger.`,
  handOutAllTheSame: 'Hand it out all the same',
  toWhom: 'To whom',
  aboutPermit: ({ title, holds }: { title: string; holds: string[] }) =>
    `${title}. ${capital(holds.join('; '))}. ` +
    'For an hour you can take out what belongs to this medium. Your name, theirs and the reason ' +
    'stand in the ledger, with each file that leaves.',
  permitIt: 'Hand it out',
  forWhom: 'Things are taken out for',
  forWhomHelp: 'Stands in the ledger with each file that leaves; empty: for yourself',
  keepForWhom: 'Keep',
  atWorkFor: ({ current, recipient }: { current: string; recipient: string }) =>
    `${current}, for ${recipient}`,
};
