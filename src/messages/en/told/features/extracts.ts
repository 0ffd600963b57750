/** What the feature extracts says: in errors, in the ledger, of work under way. */
export const extracts = {
  givenUpNothingOf: 'Given up; nothing of it is kept.',
  someOfItCant: ({ message }: { message: string }) =>
    `Some of it can't be read (${message}). Nothing of it is kept; take the media out in smaller parts to find which one it is.`,
  theImage: 'the image',
  files: 'files',
  takingOutOf: ({ whatPart, at }: { whatPart: string; at: string }) =>
    `Taking ${whatPart} out of ${at}`,
  beginning: 'Beginning',
  images: ({ done }: { done: number }) => `${done === 1 ? 'image' : 'images'}`,
  files2: ({ done }: { done: number }) => `${done === 1 ? 'file' : 'files'}`,
  asOneZip: ' as one ZIP',
  packed: ', packed',
  thoseInQuarantineKnowingly: ', those in quarantine knowingly',
  ofMediaTakenOut: ({
    done,
    whatPart,
    outgoing,
    alonePart,
    packedPart,
    acknowledgesQuarantinePart,
  }: {
    done: string;
    whatPart: string;
    outgoing: number;
    alonePart: string;
    packedPart: string;
    acknowledgesQuarantinePart: string;
  }) =>
    `${done} ${whatPart} of ${outgoing} ${outgoing === 1 ? 'medium' : 'media'} taken out${alonePart}${packedPart}${acknowledgesQuarantinePart}.`,
  oneOfTheseFair: 'one of these fair copies',
  andMore: ({ held }: { held: number }) => ` and ${held} more`,
  areInQuarantineNothing: ({
    held,
    heldPart,
    held2,
  }: {
    held: string;
    heldPart: string;
    held2: number;
  }) =>
    `${held}${heldPart} ${held2 === 1 ? 'is' : 'are'} in quarantine. Nothing was begun: leave ${held2 === 1 ? 'it' : 'them'} out, or take everything knowingly.`,
  waitingForAWorker: 'Waiting for a worker',
  suchExtract: 'such extract',
  itHasEndedAlready: 'It has ended already.',
  beingGivenUp: 'Being given up',
};
