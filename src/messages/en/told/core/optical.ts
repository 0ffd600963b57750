/** What the core says of its own accord, by the folder that says it: optical. */
export const optical = {
  lineOfTheCue: ({ line, message }: { line: number; message: string }) =>
    `Line ${line} of the cue sheet: ${message}`,
  aFileHasA: ({ type }: { type: string }) =>
    `a file has a name and is BINARY, MOTOROLA or WAVE, not ${type}.`,
  thereIsNoTrack: ({ words }: { words: string }) =>
    `there is no track ${words} that could be read.`,
  isNoPlaceOf: ({ words }: { words: string }) => `${words} is no place of a track.`,
  trackOfTheCue: ({ number }: { number: number }) =>
    `Track ${number} of the cue sheet has no INDEX 01: where it begins is not known.`,
  trackBeginsAtSector: ({
    number,
    start,
    name,
    sectors,
  }: {
    number: number;
    start: number;
    name: string;
    sectors: number;
  }) => `Track ${number} begins at sector ${start} of ${name}, which has ${sectors}.`,
  endsWithinASector: ({ bytes }: { bytes: number }) =>
    `The image ends within a sector: its last ${bytes} bytes are kept, and read as none.`,
  bytesTooMany: ({ bytes, first }: { bytes: number; first: number }) =>
    `${bytes} bytes too many stand in the image before sector ${first}; it is read from its sync on.`,
  bytesTooFew: ({ bytes, first }: { bytes: number; first: number }) =>
    `${bytes} bytes are missing in the image before sector ${first}; it is read from its sync on.`,
  sheetSaysOtherwise: ({ number, type, is }: { number: number; type: string; is: string }) =>
    `The sheet calls track ${number} ${type}; its sectors are ${is}, and are read as such.`,
};
