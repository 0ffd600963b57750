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
};
