/** What the feature intake says: in errors, in the ledger, of work under way. */
export const intake = {
  lookingAtWhatIt: 'Looking at what it is, its digest, volumes and files',
  takenInAs: ({ code }: { code: string }) => `Taken in as ${code}.`,
  itCouldNotBe: ({ message }: { message: string }) =>
    `It could not be taken in (${message}). Nothing of it is kept; try once more, or take ` +
    'it in through the command line to see why.',
  isEmptyNothingWas: ({ name }: { name: string }) => `${name} is empty. Nothing was taken in.`,
  isNeitherAFlux: ({ name, source }: { name: string; source: number }) =>
    `${name} is neither a flux capture nor a whole number of sectors, and no volume is ` +
    `known in it (${source} bytes). Nothing was taken in; if it is packed by another ` +
    'program, unpack it first.',
  isAFluxCapture: ({ name, problem }: { name: string; problem: string | null }) =>
    `${name} is a flux capture, but no sector of any kind was found in it. Nothing was ` +
    `taken in.${problem === null ? '' : ` ${problem}`}`,
  whatUnpacksToIs: ({ name }: { name: string }) =>
    `What ${name} unpacks to is not what was packed: its digest differs. Nothing was taken in.`,
  thereIsNoMedium: ({ code }: { code: string }) =>
    `There is no medium ${code}. Nothing was taken in.`,
  registeredFromTheFile: ({ code, name }: { code: string; name: string }) =>
    `${code} registered from the file ${name}.`,
  sayHowLongThe: 'Say how long the file is (Upload-Length).',
  isLargerThanAnything: ({ filename }: { filename: string }) =>
    `${filename} is larger than anything that can be taken in. Nothing was stored.`,
  isEmptyNothingWasTaken: ({ filename }: { filename: string }) =>
    `${filename} is empty. Nothing was taken in.`,
  suchUploadItWas: 'such upload: it was given up, or is taken in already',
  thisFileHasCome: 'This file has come whole already.',
  thisUploadWasGiven: 'This upload was given up.',
  bytesAreHereThe: ({ there, at }: { there: number; at: number }) =>
    `${there} bytes are here; the part begins at ${at}.`,
  moreBytesCameThan: ({ size }: { size: number }) =>
    `More bytes came than the ${size} that were announced.`,
  itHasComeWhole: 'It has come whole already and is being taken in.',
};
