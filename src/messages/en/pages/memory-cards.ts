/** What the pages of memoryCards say. */
export const memoryCards = {
  asItWas: 'as it was',
  notThere: 'not there',
  notOurs: 'not ours',
  takingIn: ({ path }: { path: string }) => `Taking ${path} in …`,
  was: ({ code }: { code: string }) => `, was ${code}`,
  fromCard: ({ path, card, codePart }: { path: string; card: number; codePart: string }) =>
    `${path} from card ${card}${codePart}`,
  isTakenInAs: ({ path, code }: { path: string; code: string }) =>
    `${path} is taken in as ${code}.`,
  itCameBackCompare: 'It came back: compare it',
  readingOf: ({ i, chosen }: { i: number; chosen: number }) => `Reading ${i} of ${chosen} …`,
  allImagesAreAs: ({ result }: { result: number }) =>
    `All ${result} images are as they were put on it.`,
  asTheyWereNot: ({ result, differing }: { result: number; differing: number }) =>
    `${result} as they were, ${differing} not:`,
  takeItIn: 'Take it in',
  makeACard: 'Make a card',
  imagesFoundBySearching: 'Images, found by searching',
  codesTitlesLenders: 'Codes, titles, lenders …',
  takeAll: ({ found }: { found: number }) => `Take all ${found}`,
  onTheCard: ({ chosen }: { chosen: number }) => `${chosen} on the card`,
  bytes: ({ reduce }: { reduce: string }) => `, ${reduce} bytes`,
  noneOfThem: 'None of them',
  takeOff: ({ code }: { code: string }) => `Take ${code} off`,
  off: 'off',
  whatTheCardIs: 'What the card is for',
  theDevice: 'The device',
  imagesAs: 'Images as',
  eachItsUsualKind: 'each its usual kind',
  settingsFileOfThe: 'Settings file of the device, if it wants one',
  itsNameOnThe: 'its name on the card',
  itsTextALine: 'Its text; a line with a word in braces of an image stands once for each',
  slotImageNumberImage: 'slot{image.number}={image.path}',
  makeTheCard: 'Make the card',
  imagesForMemoryCards: 'Images for memory cards of devices that stand in for a drive',
  text: ({ rows }: { rows: number }) =>
    `${rows === 0 ? 'No card has been made yet' : `${rows} ${rows === 1 ? 'card was' : 'cards were'} made`}`,
  searchForWhatIs:
    'Search for what is to go on a card. It comes as one ZIP to be unpacked onto the card: ' +
    'numbered images under names that the device can show, its settings file, and a list ' +
    'to print. When the card comes back, it is compared with what was put on it.',
  imagesBytes: ({ title, images, reduce }: { title: string; images: number; reduce: string }) =>
    `${title}: ${images} ${images === 1 ? 'image' : 'images'}, ${reduce} bytes`,
  theCardAsA: 'The card, as a ZIP',
  whatIsOnIt: 'What is on it',
};
