import { counted } from '../../words';

/** What the feature extracts says: in errors, in the ledger, of work under way. */
export const extracts = {
  givenUpNothingOf: 'Given up; nothing of it is kept.',
  someOfItCant: ({ message }: { message: string }) =>
    `Some of it can't be read (${message}). Nothing of it is kept; take the media out in ` +
    'smaller parts to find which one it is.',
  takingOutOf: ({ ofImages, at }: { ofImages: boolean; at: string }) =>
    `Taking ${ofImages ? 'the image' : 'files'} out of ${at}`,
  beginning: 'Beginning',
  ofMediaTakenOut: ({
    done,
    ofImages,
    media,
    asZip,
    isPacked,
    inQuarantine,
  }: {
    done: number;
    ofImages: boolean;
    media: number;
    asZip: boolean;
    isPacked: boolean;
    inQuarantine: boolean;
  }) =>
    `${counted(done, ofImages ? 'image' : 'file')} of ${counted(media, 'medium', 'media')} ` +
    `taken out${asZip ? ' as one ZIP' : ''}${isPacked ? ', packed' : ''}` +
    `${inQuarantine ? ', those in quarantine knowingly' : ''}.`,
  oneOfTheseFair: 'one of these fair copies',
  areInQuarantineNothing: ({ held, codes }: { held: number; codes: string[] }) =>
    `${codes.join(', ')}${held > codes.length ? ` and ${held - codes.length} more` : ''} ` +
    `${held === 1 ? 'is' : 'are'} in quarantine. Nothing was begun: leave ` +
    `${held === 1 ? 'it' : 'them'} out, or take everything knowingly.`,
  suchExtract: 'such extract',
  beingGivenUp: 'Being given up',
};
