/** What forms and requests ask for, where they refuse what is entered. */
export const forms = {
  atMostCopiesAre: ({ maxTried }: { maxTried: number }) =>
    `At most ${maxTried} copies are tried at once; choose fewer.`,
  aHeadStandsTwice: 'A head stands twice.',
  sayWhatItIs: 'Say what it is, in a few words.',
  chooseAKindOf: 'Choose a kind of volume, or an image to begin with.',
  atMost: ({ mostLabel }: { mostLabel: number }) =>
    `${mostLabel === 0 ? 'Such a volume has no label.' : `At most ${mostLabel} characters.`}`,
  atLeast3Characters: 'At least 3 characters.',
  sayWhyThisSetting: 'Say why this setting is better.',
  atMostCharacters: ({ limit }: { limit: number }) => `At most ${limit} characters.`,
  aNulCantStand: "A NUL can't stand here.",
  aCodeIs: ({ limit }: { limit: number }) =>
    `A code is 1 to ${limit} letters from A to Z, digits, spaces and . - _ / + :, ` +
    'and begins and ends with a letter or a digit, such as SKP-0131 or 2024/017/3.',
  noNumberCounts: 'A first code needs a number that counts on from it.',
  aPatternHas:
    'A pattern has one run of # where the number stands, with no digit beside it, such as 2024/017/##.',
  aPlaceInA: 'A place in a set is a number from 1.',
  thereIsNothingToCorrect: 'There is nothing to correct.',
  thereIsNothingTo: 'There is nothing to register.',
  atMostAtOnce: ({ maxAtOnce }: { maxAtOnce: number }) => `At most ${maxAtOnce} at once.`,
  atLeastOne: 'At least one.',
  atMost9999: 'At most 9999.',
  aDayIsWritten: 'A day is written 1996-05-12.',
  atLeastOneTurn: 'At least one turn.',
  atMost20Turns: 'At most 20 turns.',
  atLeastOneReading: 'At least one reading.',
  atMost30Readings: 'At most 30 readings.',
  sayWhatTheCard: 'Say what the card is for.',
  chooseAnImage: 'Choose an image.',
  atMostOnOne: ({ maxImages }: { maxImages: number }) => `At most ${maxImages} on one card.`,
  lettersDigitsDotsAnd: 'Letters, digits, dots and hyphens, forty at most.',
  thereIsNo: ({ unknown }: { unknown: string }) => `There is no ${unknown}.`,
  theSettingsFileNeeds: 'The settings file needs a name.',
  sayWhoIsAt: 'Say who is at work.',
  atMost80Characters: 'At most 80 characters.',
  aStackNeedsA: 'A stack needs a medium.',
  atMostInOne: ({ most }: { most: number }) => `At most ${most} in one stack.`,
  sayWhatTheyAre: 'Say what they are.',
  onlyCharactersThatCan: 'Only characters that can be typed.',
  atLeastOneA: 'At least one a second.',
};
