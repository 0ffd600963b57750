/** What the pages of signatures say. */
export const signatures = {
  bootSectors: 'boot sectors',
  isNoJsonNothing: ({ name }: { name: string }) => `${name} is no JSON. Nothing was taken in.`,
  nothingWasTakenIn: ({ name, fields }: { name: string; fields: string }) =>
    `${name}: ${fields}. Nothing was taken in.`,
  rulesTakenInEverything: ({ count }: { count: number }) =>
    `${count} ${count === 1 ? 'rule' : 'rules'} taken in; everything kept is being held ` +
    `against ${count === 1 ? 'it' : 'them'}.`,
  imagesAreHeldAgainst:
    'Images are held against them as they are settled or taken in; what answers to one is',
  inQuarantine: 'in quarantine',
  text: ({ rules }: { rules: number }) =>
    rules === 0
      ? 'No signature rules are kept'
      : `${rules} signature ${rules === 1 ? 'rule is' : 'rules are'} kept`,
  takeInAFile: 'Take in a file of rules',
  aFileIsA:
    'A file is a list of rules in JSON: an id, a name, where to look, a pattern in ' +
    'hexadecimal with ?? for any byte, and a note. Keep your own: none ship.',
  id: 'Id',
  name: 'Name',
  looksAt: 'Looks at',
  pattern: 'Pattern',
  note: 'Note',
  remove: 'Remove',
};
