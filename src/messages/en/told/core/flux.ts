/** What the core says of its own accord, by the folder that says it: flux. */
export const flux = {
  bytesFollowTheTrailer: ({ size }: { size: number }) =>
    `${size} bytes follow the trailer; what they hold was read as well.`,
  thisIsNoFlux: 'This is no flux capture: neither a header nor a reading was found.',
  theCaptureHasNo: 'The capture has no trailer: it was cut short. What there is was read.',
  theTrailerCountsReadings: ({ tracks, readings }: { tracks: number; readings: number }) =>
    `The trailer counts ${tracks} readings, ${readings} were read.`,
  furtherProblemsAreNot: ({ unlisted }: { unlisted: number }) =>
    `${unlisted} further problems are not listed one by one.`,
  indexPulsesAreOut: ({ droppedPulses }: { droppedPulses: number }) =>
    `${droppedPulses} index pulses are out of order and were left out.`,
  theSha256In:
    'The SHA-256 in the trailer is not that of the bytes before it: the file was changed after it was written.',
  theHeadersCantBe: ({ damaged }: { damaged: string }) => `The header's ${damaged} can't be used.`,
  aReadingClaimsTo:
    'A reading claims to be longer than it is; it was ended where the next one starts.',
  theHeaderCantBe: ({ end }: { end: number }) =>
    `The header can't be read (${end} bytes passed over).`,
  anItemOfBytes: ({ end }: { end: number }) =>
    `An item of ${end} bytes is no valid reading; it was passed over.`,
  bytesAreNoPart: ({ end }: { end: number }) =>
    `${end} bytes are no part of a capture; they were passed over.`,
};
